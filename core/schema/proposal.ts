import * as z from 'zod';
import { Repair } from './repair.ts';
import { TurnsOutput } from './repairFile.ts';
import { SecondsSpan } from '../time/spans.ts';

const ChannelNumber = z.int().min(1).max(64);
const TwoChannels = z.tuple([ChannelNumber, ChannelNumber]).refine(([a, b]) => a !== b, {
  message: 'Two different channels are needed.',
});

/** What is looked for on a clip, since it lies elsewhere in each. */
export const Finds = z.object({
  sections: z.boolean(),
  turns: TurnsOutput.nullable(),
  lineUp: TwoChannels.nullable(),
  balance: z.boolean(),
});
export type Finds = z.infer<typeof Finds>;

export const NOTHING_TO_FIND: Finds = { sections: false, turns: null, lineUp: null, balance: false };

/** A plan with all that was looked for, or why a person must decide. */
export const Found = z.union([
  z.object({ repair: Repair, notes: z.array(z.string()) }),
  z.object({ whyNot: z.string() }),
]);
export type Found = z.infer<typeof Found>;

export const ProposalWanted = z.object({ base: Repair, finds: Finds });

export const LineUpWanted = z.object({
  channels: TwoChannels,
  /** Over this stretch of time; over the whole clip without. */
  span: SecondsSpan.nullable(),
});

/** How one channel must be moved to meet another. */
export const LineUp = z.object({
  /** The second later than the first is positive. */
  delaySamples: z.number(),
  /** So much more of delay comes with time; the delay is then that at the clip's start. */
  driftPpm: z.number().default(0),
  /** The delay changes once; it is then that before the change. */
  jump: z.object({ atSeconds: z.number(), delaySamples: z.number() }).nullable().default(null),
  polarity: z.enum(['normal', 'inverted']),
  /** What is left of the two subtracted, at the best gain: before and after, in dB. */
  nullBeforeDb: z.number(),
  nullAfterDb: z.number(),
  /** What the two lose when they are summed: as they are, and once time and polarity are undone. */
  sumLossBeforeDb: z.number(),
  sumLossAfterDb: z.number(),
});
export type LineUp = z.infer<typeof LineUp>;
