import * as z from 'zod';
import { ClipVerdict, Side } from './verdict.ts';

/** How the edit takes a setup's material: as one stereo pair, as monos of their own, or as a surround layout. */
export const Intake = z.enum(['stereo-pair', 'separate-monos', 'surround']);
export type Intake = z.infer<typeof Intake>;

const Role = z.string().trim().min(1).max(60).nullable();

/** Clips that share a recorder, its microphones and its wiring. */
export const Setup = z.object({
  id: z.uuid(),
  name: z.string(),
  /** By a person. */
  named: z.boolean(),
  /** Why these clips stand together: "same recorder (B), names A001 to A008, right side empty in all". */
  explanation: z.string(),
  clips: z.int().nonnegative(),
  /** No one thing holds for most of its clips. */
  mixed: z.boolean(),
  /** What most of its clips carry; null while none is measured, or where it is mixed. */
  verdict: ClipVerdict.nullable(),
  side: Side.nullable(),
  /** Clips that carry something else; none where it is mixed. */
  differing: z.int().nonnegative(),
  /** A word a channel for what it carries. */
  roles: z.array(Role),
  intake: Intake,
  /** Set by a person, for this setup or the whole project; otherwise proposed by what the sound shows. */
  intakeDecided: z.boolean(),
  /** Used by itself on what comes in with this setup, where it fits. */
  recipe: z.object({ id: z.uuid(), name: z.string() }).nullable(),
});
export type Setup = z.infer<typeof Setup>;

export const SetupChange = z.object({
  name: z.string().trim().min(1, 'Give the setup a name.').max(120, 'Keep the name under 120 letters.').optional(),
  roles: z.array(Role).max(64).optional(),
  /** null leaves it to what the sound shows. */
  intake: Intake.nullable().optional(),
  /** For the clips that come in with it from now on; null for none. */
  recipeId: z.uuid().nullable().optional(),
});
export type SetupChange = z.infer<typeof SetupChange>;

/** Moves clips: into a setup that is there, or into a new one. */
export const ClipMove = z.object({
  clipIds: z.array(z.uuid()).min(1).max(10_000),
  to: z.union([z.uuid(), z.object({ newName: z.string().trim().min(1, 'Give the setup a name.').max(120) })]),
});
export type ClipMove = z.infer<typeof ClipMove>;

/** Puts all of one setup into another, which may get a name with it. */
export const SetupMerge = z.object({ from: z.uuid(), into: z.uuid(), name: SetupChange.shape.name });
export type SetupMerge = z.infer<typeof SetupMerge>;
