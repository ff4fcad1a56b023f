import * as z from 'zod';

/** Asks to keep one suggestion on the chosen clips whose suggestion it is. */
export const UseSuggestion = z.object({
  clipIds: z.array(z.uuid()).min(1).max(10_000),
  /** What the repair is called: "Fill right from left". */
  suggestion: z.string().min(1),
});
export type UseSuggestion = z.infer<typeof UseSuggestion>;

/** What was done to many clips at once; one undo takes it back. */
export const Batch = z.object({
  id: z.uuid(),
  projectId: z.uuid(),
  label: z.string(),
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
