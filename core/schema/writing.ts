import * as z from 'zod';
import { Receipt } from './receipt.ts';

/** One clip's repaired files on their way to disk, and their receipt. */
export const Writing = z.object({
  id: z.uuid(),
  clipId: z.uuid(),
  projectId: z.uuid(),
  state: z.enum(['waiting', 'writing', 'done', 'failed', 'cancelled']),
  error: z.string().nullable(),
  receipt: Receipt.nullable(),
  createdAt: z.iso.datetime(),
});
export type Writing = z.infer<typeof Writing>;
