import { rm } from 'node:fs/promises';
import type { Sequelize } from 'sequelize';
import { summarise } from '@pocket-twin/core/lineup/summarise.ts';
import type { InspectJob } from '@pocket-twin/core/schema/jobs.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { inThread } from '@pocket-twin/media/threads/inThread.ts';
import { announce } from '../db/changes.ts';
import { ClipRow } from '../db/clip.ts';
import type { Folders } from '../storage/folders.ts';
import type { JobQueue } from './queue.ts';

/** Measures a clip and keeps what was found; a file that can't be read gets its sentence instead. */
export async function inspectClip(sequelize: Sequelize, folders: Folders, queue: JobQueue, { clipId }: InspectJob): Promise<void> {
  const clip = await ClipRow.findByPk(clipId);
  // Removed while it waited.
  if (!clip) return;
  const tell = (): Promise<void> => announce(sequelize, { kind: 'clip', id: clipId });
  await clip.update({ state: 'reading', error: null });
  await tell();
  try {
    const { inspection, facts, pcm, sketch, hasStill, hash } = await inThread('inspect', {
      path: clip.sourcePath, bytes: clip.bytes, outlineFolder: folders.outline(clipId), workingCopy: folders.workingCopy(clipId), stillPath: folders.still(clipId),
    }, { onProgress: (progress) => void announce(sequelize, { kind: 'progress', id: clipId, ...progress }) });
    await clip.update({
      state: 'ready', inspection, facts, pcm, sketch, hasStill, contentHash: hash, sourceState: 'here', summary: summarise(inspection, sketch),
    });
    await queue.sendSoon('setups', { projectId: clip.projectId }, clip.projectId);
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    await clip.update({ state: 'failed', error: error.message, inspection: null, summary: null, pcm: null, sketch: null });
  }
  // Removed while it was measured: what was made for it has nobody left.
  if (await ClipRow.count({ where: { id: clipId } }) === 0) await rm(folders.clip(clipId), { recursive: true, force: true });
  else await tell();
}

/** After the last try: the person is told, the details are in the log. */
export async function giveUpInspecting(sequelize: Sequelize, { clipId }: InspectJob): Promise<void> {
  const clip = await ClipRow.findByPk(clipId);
  await clip?.update({ state: 'failed', error: `${clip.name} could not be measured; the log says why. Remove it and bring it in again.` });
  await announce(sequelize, { kind: 'clip', id: clipId });
}
