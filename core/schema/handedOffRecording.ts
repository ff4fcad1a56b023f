import * as z from 'zod';

/** A file that a recording became, for an edit to point to. */
export const HandedOffFileFacts = z.object({
  /** Within the handoff's folder, with forward slashes. */
  path: z.string(),
  /** What is on it, where there are several: "left", "boom". */
  label: z.string(),
  hasPicture: z.boolean(),
  /** Its sound streams, their channels, and for each the channels of the recording that feed it. */
  streams: z.array(z.array(z.array(z.int().min(1)))),
});
export type HandedOffFileFacts = z.infer<typeof HandedOffFileFacts>;

/** A recording, and what a folder has of it: enough to point an edit there again, whenever more is handed off into it. */
export const HandedOffRecording = z.object({
  /** Where it lies on this machine: what it is known by from one handoff to the next. */
  source: z.string(),
  /** Where an edit would look for it. */
  path: z.string(),
  reel: z.string().nullable(),
  /** Its start in its own timecode; null where it has none. */
  startSeconds: z.number().nullable(),
  durationSeconds: z.number().nonnegative(),
  sampleRate: z.number().positive(),
  hasPicture: z.boolean(),
  /** How many channels each of its sound streams has. */
  streams: z.array(z.int().min(1)),
  /** Its channels that carry sound of their own and are in none of the files. */
  lost: z.array(z.int().min(1)),
  /** Which stretch of it went into which files; none where it was left. */
  pieces: z.array(
    z.object({
      startSeconds: z.number().nonnegative(),
      endSeconds: z.number().nonnegative(),
      files: z.array(HandedOffFileFacts).min(1),
    }),
  ),
});
export type HandedOffRecording = z.infer<typeof HandedOffRecording>;
