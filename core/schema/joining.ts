import * as z from 'zod';

/** What is worth a warning when files become one. */
export const JoinWarning = z.object({
  code: z.enum(['comb-filtering', 'nothing-in-common', 'drift']),
  message: z.string(),
});
export type JoinWarning = z.infer<typeof JoinWarning>;

/** What a joined clip was made of: its files in order, and how they were put in step. */
export const JoinedFrom = z.array(
  z.object({
    clipId: z.uuid(),
    name: z.string(),
    offsetSamples: z.number().nullable(),
    /** With a fraction where its sound is put in step to less than a sample. */
    padFrames: z.number().nonnegative(),
  }),
);
export type JoinedFrom = z.infer<typeof JoinedFrom>;

/** Asks for clips to become one, in the order given. */
export const JoinWanted = z.object({
  clipIds: z.array(z.uuid()).min(2, 'Joining needs two clips or more.').max(64),
  /** Whether the offset between them is undone. */
  lineUp: z.boolean(),
});
export type JoinWanted = z.infer<typeof JoinWanted>;

/** What was found of files that belong together, and how they were put in step. */
export const Joining = z.object({
  /** How much later than in the first file the same sound comes in each, in samples; null where nothing in it is in the first. */
  offsetsSamples: z.array(z.number().nullable()),
  /** How many frames of silence stand before each; with a fraction where its sound is put in step to less than a sample. */
  padsFrames: z.array(z.number().nonnegative()),
  frames: z.int().nonnegative(),
  warnings: z.array(JoinWarning),
});
export type Joining = z.infer<typeof Joining>;
