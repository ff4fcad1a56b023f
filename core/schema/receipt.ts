import * as z from 'zod';
import { Sketch } from './sketch.ts';
import { Inspection } from './inspection.ts';
import { Repair } from './repair.ts';

/** One written file: what it is, and how it was proven. */
export const WrittenFile = z.object({
  name: z.string(),
  bytes: z.int().nonnegative(),
  frames: z.int().nonnegative(),
  /** Every sample word is one of the source's, turned over or moved by whole samples at most; none was calculated. */
  exact: z.boolean(),
  /** The fades, in frames, outside of which every word is one of the source's; none where all are, null where samples are calculated elsewhere. */
  exactOutside: z
    .array(z.object({ startFrame: z.int().nonnegative(), endFrame: z.int().nonnegative() }))
    .nullable()
    .default(null),
  /** Samples that lay beyond full scale and are held there: also the most negative integer, turned over, has no counterpart. */
  heldSamples: z.int().nonnegative().default(0),
  /** The file was read back and compared with the source put through the repair again. */
  proof: z.object({ comparedFrames: z.int().nonnegative(), differingFrames: z.int().nonnegative() }),
  after: Inspection,
  /** Its ribbon in little; null where none was asked for. */
  sketch: Sketch.nullable().default(null),
});
export type WrittenFile = z.infer<typeof WrittenFile>;

/** What was done to a clip, measured before and after, and proof. */
export const Receipt = z.object({
  version: z.literal(1),
  source: z.string(),
  repair: Repair,
  /** The gain that a level target needed; 0 without one. */
  levelGainDb: z.number(),
  before: Inspection,
  /** The ribbon of the source, as it was. */
  sketch: Sketch.nullable().default(null),
  files: z.array(WrittenFile).min(1),
  writtenAt: z.iso.datetime(),
});
export type Receipt = z.infer<typeof Receipt>;
