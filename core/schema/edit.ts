import * as z from 'zod';

// A feature film's timeline with all its metadata has a few tens of megabytes.
const LONGEST_TEXT = 48 * 1024 ** 2;

/** An edit as a person gives it: OpenTimelineIO or a CMX 3600 list. */
export const EditGiven = z.object({
  fileName: z.string().trim().min(1).max(300),
  text: z.string().min(1, 'The edit is empty.').max(LONGEST_TEXT, 'The edit is too large: export the sequence alone.'),
});
export type EditGiven = z.infer<typeof EditGiven>;

/** The edit of a project, and what it uses of the project's clips. */
export const ProjectEdit = z.object({
  id: z.uuid(),
  name: z.string(),
  /** Stretches of recordings in it, and those whose recording is one of the project's clips. */
  events: z.int().nonnegative(),
  matched: z.int().nonnegative(),
  /** What the others are called, each once. */
  missing: z.array(z.string()),
  ambiguous: z.array(z.object({ name: z.string(), clips: z.array(z.string()) })),
  /** Of each clip that is used, how much in all: stretches that overlap count once. */
  usedSeconds: z.record(z.uuid(), z.number().nonnegative()),
  readAt: z.iso.datetime(),
});
export type ProjectEdit = z.infer<typeof ProjectEdit>;
