import type { Sequelize } from 'sequelize';
import type { InspectJob } from '@pocket-twin/core/schema/jobs.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { inThread } from '@pocket-twin/media/threads/inThread.ts';
import { announce } from '../db/changes.ts';
import { ClipRow } from '../db/clip.ts';
import type { Folders } from '../storage/folders.ts';

/** Measures a clip and keeps what was found; a file that can't be read gets its sentence instead. */
export async function inspectClip(sequelize: Sequelize, folders: Folders, { clipId }: InspectJob): Promise<void> {
  const clip = await ClipRow.findByPk(clipId);
  // Removed while it waited.
  if (!clip) return;
  const tell = (): Promise<void> => announce(sequelize, { kind: 'clip', id: clipId });
  await clip.update({ state: 'reading', error: null });
  await tell();
  try {
    const { inspection, pcm, sketch } = await inThread('inspect', {
      path: clip.sourcePath, outlineFolder: folders.outline(clipId), workingCopy: folders.workingCopy(clipId),
    }, { onProgress: (share) => void announce(sequelize, { kind: 'progress', id: clipId, share }) });
    await clip.update({ state: 'ready', inspection, pcm, sketch });
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    await clip.update({ state: 'failed', error: error.message });
  }
  await tell();
}

/** After the last try: the person is told, the details are in the log. */
export async function giveUpInspecting(sequelize: Sequelize, { clipId }: InspectJob): Promise<void> {
  const clip = await ClipRow.findByPk(clipId);
  await clip?.update({ state: 'failed', error: `${clip.name} could not be measured; the log says why. Remove it and bring it in again.` });
  await announce(sequelize, { kind: 'clip', id: clipId });
}
