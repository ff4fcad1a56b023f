import { z } from 'zod';

export const Project = z.object({
  id: z.uuid(),
  name: z.string(),
  createdAt: z.iso.datetime(),
  clips: z.int().nonnegative(),
  /** Clips that are still to be measured. */
  open: z.int().nonnegative(),
  /** Clips whose findings include one that must be fixed. */
  toFix: z.int().nonnegative(),
  /** Clips where a person must decide. */
  toLook: z.int().nonnegative(),
});
export type Project = z.infer<typeof Project>;

export const NewProject = z.object({
  name: z.string().trim().min(1, 'Give the project a name.').max(120, 'Keep the name under 120 letters.'),
});
export type NewProject = z.infer<typeof NewProject>;
