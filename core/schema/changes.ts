import { z } from 'zod';
import { Clip } from './clip.ts';
import { Writing } from './writing.ts';

/** What one process tells the others has changed, by name only. */
export const ChangeNotice = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('clip'), id: z.uuid() }),
  z.object({ kind: z.literal('clip-removed'), id: z.uuid(), projectId: z.uuid() }),
  z.object({ kind: z.literal('writing'), id: z.uuid() }),
  z.object({ kind: z.literal('progress'), id: z.uuid(), share: z.number().min(0).max(1) }),
]);
export type ChangeNotice = z.infer<typeof ChangeNotice>;

/** What the page is told over server-sent events. */
export const ServerEvent = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('clip'), clip: Clip }),
  z.object({ kind: z.literal('clip-removed'), id: z.uuid(), projectId: z.uuid() }),
  z.object({ kind: z.literal('writing'), writing: Writing }),
  z.object({ kind: z.literal('progress'), id: z.uuid(), share: z.number().min(0).max(1) }),
]);
export type ServerEvent = z.infer<typeof ServerEvent>;
