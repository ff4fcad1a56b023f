import * as z from 'zod';
import { Handoff, HandoffFile } from '../schema/handoff.ts';
import { LineupRow } from '../schema/lineup.ts';
import { Writing } from '../schema/writing.ts';

/** What a running job is at, and how far: comparing is with the project's other clips, by content. */
const JobStage = z.enum(['joining', 'measuring', 'looking again', 'comparing', 'writing', 'proving']);
export const Progress = z.object({ stage: JobStage, share: z.number().min(0).max(1) });
export type Progress = z.infer<typeof Progress>;

/** What one process tells the others has changed, by name only. */
export const ChangeNotice = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('clip'), id: z.uuid() }),
  z.object({ kind: z.literal('clip-removed'), id: z.uuid(), projectId: z.uuid() }),
  // Many clips, or their setups.
  z.object({ kind: z.literal('lineup'), projectId: z.uuid() }),
  // A project came, went, or is called something else.
  z.object({ kind: z.literal('projects') }),
  z.object({ kind: z.literal('writing'), id: z.uuid() }),
  z.object({ kind: z.literal('handoff'), id: z.uuid() }),
  z.object({ kind: z.literal('handoff-file'), id: z.uuid(), handoffId: z.uuid() }),
  z.object({ kind: z.literal('progress'), id: z.uuid(), ...Progress.shape }),
]);
export type ChangeNotice = z.infer<typeof ChangeNotice>;

/** What the page is told over server-sent events. */
export const ServerEvent = z.discriminatedUnion('kind', [
  // Clips that changed within a moment come together.
  z.object({ kind: z.literal('clips'), rows: z.array(LineupRow) }),
  z.object({ kind: z.literal('clip-removed'), id: z.uuid(), projectId: z.uuid() }),
  z.object({ kind: z.literal('lineup'), projectId: z.uuid() }),
  z.object({ kind: z.literal('projects') }),
  z.object({ kind: z.literal('writing'), writing: Writing }),
  z.object({
    kind: z.literal('handoffs'),
    handoffs: z.array(Handoff),
    files: z.array(z.object({ handoffId: z.uuid(), file: HandoffFile })),
  }),
  // Back: what changed meanwhile was told to nobody.
  z.object({ kind: z.literal('database'), state: z.enum(['away', 'back']) }),
  z.object({ kind: z.literal('progress'), jobs: z.array(z.object({ id: z.uuid(), ...Progress.shape })) }),
]);
export type ServerEvent = z.infer<typeof ServerEvent>;
