import { SecondsSpan } from '../time/spans.ts';
import * as z from 'zod';
import { ClipVerdict, FindingCode, PairVerdict, Severity, Side, SuggestedAction } from './verdict.ts';

/** Decibels; minus infinity (nothing there) is null. */
const Level = z.number().nullable();
const ChannelNumber = z.int().min(1);

export const ClipFormat = z.object({
  container: z.string(),
  codec: z.string(),
  sampleRate: z.int().positive(),
  channels: ChannelNumber,
  /** null where the codec has no depth (lossy coding). */
  bitDepth: z.int().nullable(),
  frames: z.int().nonnegative(),
  durationSeconds: z.number().nonnegative(),
  hasVideo: z.boolean(),
  /** One sentence where the file is damaged but readable. */
  warning: z.string().nullable(),
});
export type ClipFormat = z.infer<typeof ClipFormat>;

export const ChannelContent = z.enum(['programme', 'noise', 'silent']);
export type ChannelContent = z.infer<typeof ChannelContent>;

const MadeSignal = z.object({
  kind: z.enum(['timecode', 'tone', 'hum', 'interference', 'hiss']),
  hz: z.number().nullable(),
  timecode: z.string().nullable(),
});

export const ChannelReport = z.object({
  channel: ChannelNumber,
  content: ChannelContent,
  peakDbfs: Level,
  truePeakDbtp: Level,
  rmsDbfs: Level,
  loudnessLufs: Level,
  momentaryMaxLufs: Level,
  shortTermMaxLufs: Level,
  loudnessRangeLu: z.number().nonnegative(),
  noiseFloorDbfs: Level,
  /** The mains and its harmonics; null where the channel is silent or does not hum. */
  humDbfs: Level,
  mainsHz: z.number().nullable(),
  longestSilenceSeconds: z.number().nonnegative(),
  clippedSamples: z.int().nonnegative(),
  dcOffset: z.number(),
  /** What a machine makes and nobody says, beside a programme; null where it is none of that. */
  made: MadeSignal.nullable().default(null),
});
export type ChannelReport = z.infer<typeof ChannelReport>;

/** A part of the fake stereo disguise. */
export const Disguise = z.enum(['level', 'polarity', 'delay', 'filter']);
export type Disguise = z.infer<typeof Disguise>;

/** One thing that spoke for a verdict on a pair, or for what is found in one. */
export const Spoken = z.object({
  says: z.enum([...PairVerdict.options, 'mid-side', 'upside-down']),
  /** What was measured, against where the verdict begins: 1 and over speaks for it. */
  strength: z.number().nonnegative(),
  message: z.string(),
});
export type Spoken = z.infer<typeof Spoken>;

/** One signal on both sides, a copy of which sways, as a chorus makes it. */
export const Sway = z.object({
  kind: z.enum(['beside', 'wide', 'alone']),
  /** The side that is the voice and nothing else; null where neither is. */
  whole: Side.nullable(),
  leastSeconds: z.number().nonnegative(),
  mostSeconds: z.number().nonnegative(),
});
export type Sway = z.infer<typeof Sway>;

export const PairReport = z.object({
  channels: z.tuple([ChannelNumber, ChannelNumber]),
  verdict: PairVerdict,
  side: Side.nullable(),
  disguise: z.array(Disguise),
  confidence: z.number().min(0).max(1),
  /** -1..1; null where a side is digital silence. */
  correlation: z.number().min(-1).max(1).nullable(),
  balanceLu: Level,
  nullDepthDb: Level,
  matchedNullDepthDb: Level,
  gainDb: Level,
  /** Right later than left is positive. */
  delaySamples: z.number(),
  /** Clocks that run apart, in parts per million: right later and later is positive. The delay is then that at the clip's start. */
  driftPpm: z.number().default(0),
  /** From some moment on the right side comes so much later (earlier: negative) than before; null where the delay stays. */
  jump: z.object({ atSeconds: z.number().nonnegative(), delaySamples: z.number() }).nullable().default(null),
  /** How far a limiter or an automatic gain on one side moves `gainDb`, and which side it was on; 0 where nothing does. */
  gainMovesDb: z.number().nonnegative().default(0),
  limited: Side.nullable().default(null),
  /** Of two copies the one that holds less of the spectrum, and what it still holds; null where neither does. */
  narrower: z.object({ side: Side, lowHz: z.number(), highHz: z.number() }).nullable().default(null),
  /** One voice spread by an echo so much later: added on one side, taken off on the other. 0 where it is not. */
  echoSeconds: z.number().nonnegative().default(0),
  /** A copy of the voice whose delay goes to and fro, from the earliest twentieth to the latest: on one side beside it or alone, or added on one side and taken off on the other. */
  sway: Sway.nullable().default(null),
  /** From this moment on each side carries what the other carried before: told from the noise of each, or only from what leans. null where they stay. */
  exchange: z
    .object({ atSeconds: z.number(), by: z.enum(['noise', 'leaning']) })
    .nullable()
    .default(null),
  polarity: z.enum(['normal', 'inverted']),
  /** Both sides hear something in common; only then do gain, delay and polarity say anything. */
  commonArrival: z.boolean(),
  /** Which side holds the middle, where middle and side were recorded and never decoded; null where they were not. */
  middle: Side.nullable().default(null),
  sumLossDb: Level,
  /** What spoke, the strongest first; of a changing clip, in its longest section. */
  spoke: z.array(Spoken).default([]),
  /** Two microphones only: for how many people they are; null otherwise, or where that was not looked at. */
  talkers: z.int().min(1).max(2).nullable().default(null),
});
export type PairReport = z.infer<typeof PairReport>;

export const Section = SecondsSpan.extend({
  verdict: ClipVerdict,
  side: Side.nullable(),
});
export type Section = z.infer<typeof Section>;

export const Finding = SecondsSpan.extend({
  code: FindingCode,
  severity: Severity,
  channels: z.array(ChannelNumber),
  message: z.string(),
});
export type Finding = z.infer<typeof Finding>;

export const Suggestion = z.object({
  action: SuggestedAction,
  /** The channel that feeds, where the action has one. */
  from: ChannelNumber.nullable(),
  /** The channels that are fed, where the action has them. */
  to: z.array(ChannelNumber),
  reason: z.string(),
});
export type Suggestion = z.infer<typeof Suggestion>;

/** What is on each channel of one file, and what to do. */
export const Inspection = z.object({
  format: ClipFormat,
  channels: z.array(ChannelReport),
  pairs: z.array(PairReport),
  verdict: ClipVerdict,
  sections: z.array(Section),
  duplicates: z.array(z.array(ChannelNumber)),
  /** Channels that are sums of others: the mix that a recorder makes beside the single microphones. */
  mixes: z.array(z.object({ channel: ChannelNumber, of: z.array(ChannelNumber) })).default([]),
  clearestChannel: ChannelNumber.nullable(),
  findings: z.array(Finding),
  suggestion: Suggestion,
  /** The sentence, and what stands under it. */
  headline: z.string(),
  detail: z.string(),
  /** What probably happened, and how to record it right next time. */
  cause: z.string().nullable(),
  advice: z.string().nullable(),
});
export type Inspection = z.infer<typeof Inspection>;

/** Numbers that may be minus infinity, as JSON has them. */
export function levelOrNull(db: number): number | null {
  return Number.isFinite(db) ? db : null;
}
