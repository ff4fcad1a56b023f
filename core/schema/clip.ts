import * as z from 'zod';
import { ClipFacts } from './clipFacts.ts';
import { Inspection } from './inspection.ts';
import { JoinedFrom } from './joining.ts';
import { Repair } from './repair.ts';
import { Sketch } from './sketch.ts';

/** waiting: in the queue; reading: being measured; failed: `error` says why in a sentence. */
export const ClipState = z.enum(['waiting', 'reading', 'ready', 'failed']);
export type ClipState = z.infer<typeof ClipState>;

/** Whether the file is where it was and as it was when it was measured. */
export const SourceState = z.enum(['here', 'moved', 'changed']);
export type SourceState = z.infer<typeof SourceState>;

/** A clip as the interface has it. */
export const Clip = z.object({
  id: z.uuid(),
  projectId: z.uuid(),
  /** What people call it; the file keeps its own name. */
  name: z.string(),
  fileName: z.string(),
  bytes: z.int().nonnegative(),
  state: ClipState,
  error: z.string().nullable(),
  /** It stays where it was found and was not copied. */
  linked: z.boolean(),
  sourceState: SourceState,
  inspection: Inspection.nullable(),
  facts: ClipFacts.nullable(),
  hasStill: z.boolean(),
  setupId: z.uuid().nullable(),
  sketch: Sketch.nullable(),
  /** The clips it was joined from; null where it came as it is. */
  joinedFrom: JoinedFrom.nullable(),
  /** The repair that is kept; null where none was chosen. */
  repair: Repair.nullable(),
  canUndo: z.boolean(),
  canRedo: z.boolean(),
  createdAt: z.iso.datetime(),
});
export type Clip = z.infer<typeof Clip>;

export const KeepRepair = z.object({
  repair: Repair,
  /** What was kept as far as the sender knows: where something else is by now, another window has kept it. */
  seen: Repair.nullable().optional(),
});
export type KeepRepair = z.infer<typeof KeepRepair>;

/** What is to be written: this repair, which is kept in the same step, or without one the repair that is kept. */
export const WriteWanted = KeepRepair.partial();
export type WriteWanted = z.infer<typeof WriteWanted>;

export const ClipRename = z.object({
  name: z.string().trim().min(1, 'Give the clip a name.').max(200, 'Keep the name under 200 letters.'),
});
export type ClipRename = z.infer<typeof ClipRename>;

export const ClipsRemoved = z.object({ clipIds: z.array(z.uuid()).min(1).max(10_000) });
export type ClipsRemoved = z.infer<typeof ClipsRemoved>;
