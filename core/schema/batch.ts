import * as z from 'zod';

/** Asks to keep a suggestion on chosen clips: one by its name on those whose suggestion it is, or on each clip its own. */
export const UseSuggestion = z.object({
  clipIds: z.array(z.uuid()).min(1).max(10_000),
  /** What the repair is called: "Fill right from left"; null for each clip's own. */
  suggestion: z.string().min(1).nullable(),
});
export type UseSuggestion = z.infer<typeof UseSuggestion>;

/** Something done to a project's clips or setups in one go; one undo takes it back, the newest first. */
export const Batch = z.object({
  id: z.uuid(),
  projectId: z.uuid(),
  /** What was done, in words: "Fill right from left kept on 3 clips". */
  label: z.string(),
  /** Clips that it changed. */
  clips: z.int().nonnegative(),
  undone: z.boolean(),
});
export type Batch = z.infer<typeof Batch>;

export const SuggestionUsed = z.object({
  /** null where no clip had that suggestion. */
  batch: Batch.nullable(),
  left: z.array(z.object({ clipId: z.uuid(), name: z.string(), why: z.string() })),
});
export type SuggestionUsed = z.infer<typeof SuggestionUsed>;

/** What undo and redo would do now, in words; null where there is nothing. */
export const History = z.object({ undo: z.string().nullable(), redo: z.string().nullable() });
export type History = z.infer<typeof History>;
