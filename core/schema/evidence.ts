import { SecondsSpan } from '../time/spans.ts';
import * as z from 'zod';
import { Sway } from './inspection.ts';

const Db = z.number().nullable();
const Curve = z.array(z.number());

const LeaningEvidence = z.object({
  delaySamples: z.number(),
  prominence: z.number(),
  levelDifferenceDb: z.number(),
  stretches: z.int(),
});

/** What undoing a disguise brings; depths are RMS of (L - R) relative to (L + R), above the noise. */
export const MatchEvidence = z.object({
  stretches: z.int(),
  pauses: z.int(),
  polarity: z.enum(['normal', 'inverted']),
  gainDb: Db,
  /** Right later than left is positive. */
  delaySamples: z.number(),
  /** What no fixed filter undoes, as in `PairReport`. */
  driftPpm: z.number(),
  jump: z.object({ atSeconds: z.number(), delaySamples: z.number() }).nullable(),
  gainMovesDb: z.number(),
  limited: z.enum(['left', 'right']).nullable(),
  echoSeconds: z.number(),
  sway: Sway.nullable(),
  plainNullDb: Db,
  levelNullDb: Db,
  alignedNullDb: Db,
  matchedNullDb: Db,
  leftFromRightDb: Db,
  rightFromLeftDb: Db,
  incoherentShare: z.number(),
  /** How far the arrival's peak stands out of the curve, in standard deviations; below 7.5 it may be chance. */
  prominence: z.number(),
  /** The arrival while the left side is louder than it mostly is, and while the right is. */
  leaning: z.object({ left: LeaningEvidence, right: LeaningEvidence }),
  /** Whitened correlation against how much later the right side is, -1..1. */
  arrival: z.object({ milliseconds: Curve, correlation: Curve }),
  /** Means over bands of a third of an octave or finer. */
  spectrum: z.object({ hz: Curve, leftDb: Curve, rightDb: Curve, coherence: Curve }),
  /** Samples of both sides, drawn against each other. */
  scope: z.object({ left: Curve, right: Curve }),
});
export type MatchEvidence = z.infer<typeof MatchEvidence>;

/** What a person can look at to see why a verdict was given: two channels over a stretch of time. */
export const Evidence = SecondsSpan.extend({
  channels: z.tuple([z.int(), z.int()]),
  /** Level of each side in the speech band over time. */
  balance: z.object({ stepSeconds: z.number(), leftDb: z.array(Db), rightDb: z.array(Db) }),
  /** null where one side has nothing to compare. */
  match: MatchEvidence.nullable(),
});
export type Evidence = z.infer<typeof Evidence>;

export const EvidenceWanted = z.object({
  left: z.coerce.number().int().min(1),
  right: z.coerce.number().int().min(1),
  startSeconds: z.coerce.number().nonnegative().optional(),
  endSeconds: z.coerce.number().nonnegative().optional(),
});
export type EvidenceWanted = z.infer<typeof EvidenceWanted>;
