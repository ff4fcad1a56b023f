import * as z from 'zod';

export const InspectJob = z.object({ clipId: z.uuid() });
export type InspectJob = z.infer<typeof InspectJob>;

/** What tells a recording from another that took its place. */
export const FileStamp = z.object({
  bytes: z.int().nonnegative(),
  /** Whole milliseconds since 1970. */
  modifiedMs: z.int(),
  /** The file itself on its disk, whatever it is called; null where that is not known. It may be another after the disk was away. */
  identity: z.string().nullable(),
});
export type FileStamp = z.infer<typeof FileStamp>;

/** `seen` is what a linked file was when its writing was asked for. */
export const WriteJob = z.object({ writingId: z.uuid(), seen: FileStamp.optional() });
export type WriteJob = z.infer<typeof WriteJob>;

export const SetupsJob = z.object({ projectId: z.uuid() });
export type SetupsJob = z.infer<typeof SetupsJob>;

/** Clips that came in with a setup get its recipe, where it fits and nothing is kept on them yet. */
export const RecipeJob = z.object({ projectId: z.uuid(), recipeId: z.uuid(), clipIds: z.array(z.uuid()).min(1) });
export type RecipeJob = z.infer<typeof RecipeJob>;

/** One clip's files of a handoff. `seen` is what a linked file was when the handoff was asked for. */
export const HandoffFileJob = z.object({ fileId: z.uuid(), seen: FileStamp.optional() });
export type HandoffFileJob = z.infer<typeof HandoffFileJob>;

/** Receipts, the edit and the checksums, once every file is there or is not to be. */
export const HandoffEndJob = z.object({ handoffId: z.uuid() });
export type HandoffEndJob = z.infer<typeof HandoffEndJob>;
