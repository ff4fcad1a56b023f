import * as z from 'zod';

export const EditFaultCode = z.enum([
  /** What an event's recording became is not at its place in the written edit. */
  'lost-event',
  /** A further file of a recording has no track beside the first. */
  'lost-track',
  /** It is there, at another time. */
  'shifted',
  /** Something else is at its place. */
  'wrong-file',
  /** Its file is not where the written edit says. */
  'dangling',
  /** The written edit plays something that nobody asked for. */
  'added',
  /** The old edit sounds there, and the new one does not. */
  'silent',
  /** Left and right are balanced otherwise, and no repair did that. */
  'balance',
]);
export type EditFaultCode = z.infer<typeof EditFaultCode>;

/** Where a written edit is not what it should be, in the film's own time. */
export const EditFault = z.object({
  code: EditFaultCode,
  /** What the edit calls it. */
  name: z.string(),
  startSeconds: z.number().nullable(),
  endSeconds: z.number().nullable(),
});
export type EditFault = z.infer<typeof EditFault>;

/** The written edit, read again and played through without a speaker, against the one that was given. */
export const EditProof = z.object({
  faults: z.array(EditFault),
  /** Events whose file is in neither place: the old edit led nowhere, and so does the new one. */
  unresolved: z.array(z.string()),
  /** Moments that were compared, and seconds in them in which the old edit sounds. */
  comparedSeconds: z.number().nonnegative(),
  soundingSeconds: z.number().nonnegative(),
});
export type EditProof = z.infer<typeof EditProof>;

/** Nothing went wrong, and nothing was left unlooked at. */
export function isProven({ faults, unresolved }: EditProof): boolean {
  return faults.length === 0 && unresolved.length === 0;
}
