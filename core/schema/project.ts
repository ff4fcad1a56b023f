import * as z from 'zod';
import { FrameRate } from '../time/frameRates.ts';
import { Standing } from './lineup.ts';
import { Intake } from './setup.ts';
import { ClipVerdict } from './verdict.ts';

export const Project = z.object({
  id: z.uuid(),
  name: z.string(),
  createdAt: z.iso.datetime(),
  clips: z.int().nonnegative(),
  /** Clips by where they stand. */
  standings: z.record(Standing, z.int().nonnegative()),
  /** Clips that would play wrong as they are, and for which nothing is decided. */
  wrong: z.int().nonnegative(),
  verdicts: z.partialRecord(ClipVerdict, z.int()),
  archived: z.boolean(),
  /** When a clip last came or something was last kept. */
  lastWorkedAt: z.iso.datetime(),
  /** For all its setups; null leaves it to what the sound shows. */
  intake: Intake.nullable(),
  /** For clips that start at a timecode and do not say how many frames a second. */
  frameRate: FrameRate.nullable(),
});
export type Project = z.infer<typeof Project>;

export const NewProject = z.object({
  name: z.string().trim().min(1, 'Give the project a name.').max(120, 'Keep the name under 120 letters.'),
});
export type NewProject = z.infer<typeof NewProject>;

export const ProjectChange = z.object({
  name: NewProject.shape.name.optional(),
  archived: z.boolean().optional(),
  intake: Intake.nullable().optional(),
  frameRate: FrameRate.nullable().optional(),
});
export type ProjectChange = z.infer<typeof ProjectChange>;
