import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { begin } from '../history/projectHistory.ts';
import type { BatchRow } from '../history/batch.ts';
import { action, type ActionContext, type Step } from '../platform/action.ts';
import { lockProject } from '../projects/project.ts';
import { ClipRow } from './clip.ts';
import { queueOpenClips } from './openClips.ts';

const MOST_TOLD_SINGLY = 50;

/** Many rows are asked for again by whoever has them in sight; a few come by themselves. */
export async function tellClips({ tell }: Step, projectId: string, clipIds: string[]): Promise<void> {
  if (clipIds.length <= MOST_TOLD_SINGLY) for (const id of clipIds) await tell({ kind: 'clip', id });
  await tell({ kind: 'lineup', projectId });
}

/** Takes clips out of their project. They can be put back for a day. */
export function removeClips(context: ActionContext, projectId: string, wanted: string[]): Promise<BatchRow> {
  return action(context, async ({ transaction, tell }) => {
    await lockProject(projectId, transaction);
    const clips = await ClipRow.findAll({
      where: { projectId, id: wanted },
      attributes: ['id', 'fileName', 'displayName'],
      transaction,
    });
    if (clips.length === 0) throw new Refusal('not-found', 'Those clips are no longer in the project.');
    const clipIds = clips.map(({ id }) => id);
    await ClipRow.update({ removedAt: new Date() }, { where: { id: clipIds }, transaction });
    const subject = clips.length === 1 ? (clips[0].displayName ?? clips[0].fileName) : `${clips.length} clips`;
    const batch = await begin(
      projectId,
      { kind: 'removal', label: `${subject} taken out of the project`, clips: clips.length, change: { clipIds } },
      transaction,
    );
    if (clipIds.length === 1) await tell({ kind: 'clip-removed', id: clipIds[0], projectId });
    await tell({ kind: 'lineup', projectId });
    return batch;
  });
}

/** Puts clips back, whatever was done since. Those that waited to be measured when they were taken away go on. */
export function restoreClips(context: ActionContext, projectId: string, clipIds: string[]): Promise<void> {
  return action(context, async (step) => {
    const { transaction, tell } = step;
    await ClipRow.unscoped().update({ removedAt: null }, { where: { projectId, id: clipIds }, transaction });
    await queueOpenClips(step, projectId);
    await tell({ kind: 'lineup', projectId });
  });
}

/** For display; the file keeps its name. */
export function renameClip(context: ActionContext, clip: ClipRow, name: string): Promise<void> {
  return action(context, async ({ transaction, tell }) => {
    await clip.update({ displayName: name === clip.fileName ? null : name }, { transaction });
    await tell({ kind: 'clip', id: clip.id });
  });
}
