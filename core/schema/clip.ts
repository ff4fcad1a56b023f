import { z } from 'zod';
import { Inspection } from './inspection.ts';
import { Repair } from './repair.ts';

/** waiting: in the queue; reading: being measured; failed: `error` says why in a sentence. */
export const ClipState = z.enum(['waiting', 'reading', 'ready', 'failed']);
export type ClipState = z.infer<typeof ClipState>;

/** The ribbon of a row: the peak of each column in whole dBFS, null where there is nothing. */
export const Sketch = z.array(z.object({ channel: z.int(), peaksDbfs: z.array(z.int().nullable()) }));
export type Sketch = z.infer<typeof Sketch>;

/** A clip as the interface has it. */
export const Clip = z.object({
  id: z.uuid(),
  projectId: z.uuid(),
  name: z.string(),
  bytes: z.int().nonnegative(),
  state: ClipState,
  error: z.string().nullable(),
  inspection: Inspection.nullable(),
  sketch: Sketch.nullable(),
  /** The repair that is kept; null where none was chosen. */
  repair: Repair.nullable(),
  canUndo: z.boolean(),
  canRedo: z.boolean(),
  createdAt: z.iso.datetime(),
});
export type Clip = z.infer<typeof Clip>;

export const KeepRepair = z.object({ repair: Repair });
export type KeepRepair = z.infer<typeof KeepRepair>;
