import { rm } from 'node:fs/promises';
import { Op, type Sequelize } from 'sequelize';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { announce } from './changes.ts';
import type { BatchRow } from './batch.ts';
import { ClipRow } from './clip.ts';
import { lockProject, ProjectRow } from './project.ts';
import { begin } from './projectHistory.ts';
import type { Folders } from '../storage/folders.ts';

const KEPT_HOURS = 24;

/** Takes clips out of their project. They can be put back for a day. */
export async function removeClips(sequelize: Sequelize, projectId: string, wanted: string[]): Promise<BatchRow> {
  const { batch, clipIds } = await sequelize.transaction(async (transaction) => {
    await lockProject(projectId, transaction);
    const clips = await ClipRow.findAll({
      where: { projectId, id: wanted },
      attributes: ['id', 'name', 'displayName'],
      transaction,
    });
    if (clips.length === 0) throw new Refusal('not-found', 'Those clips are no longer in the project.');
    const ids = clips.map(({ id }) => id);
    await ClipRow.update({ removedAt: new Date() }, { where: { id: ids }, transaction });
    const label =
      clips.length === 1
        ? `${clips[0].displayName ?? clips[0].name} taken out of the project`
        : `${clips.length} clips taken out of the project`;
    return {
      clipIds: ids,
      batch: await begin(
        projectId,
        { kind: 'removal', label, clips: ids.length, change: { clipIds: ids } },
        transaction,
      ),
    };
  });
  if (clipIds.length === 1) await announce(sequelize, { kind: 'clip-removed', id: clipIds[0], projectId });
  await announce(sequelize, { kind: 'lineup', projectId });
  return batch;
}

/** Puts clips back, whatever was done since. */
export async function restoreClips(sequelize: Sequelize, projectId: string, clipIds: string[]): Promise<void> {
  await ClipRow.unscoped().update({ removedAt: null }, { where: { projectId, id: clipIds } });
  await announce(sequelize, { kind: 'lineup', projectId });
}

/** Takes a whole project away. It can be put back for a day. */
export async function removeProject(sequelize: Sequelize, project: ProjectRow): Promise<void> {
  await project.update({ removedAt: new Date() });
  await announce(sequelize, { kind: 'projects' });
}

export async function restoreProject(sequelize: Sequelize, projectId: string): Promise<void> {
  const [found] = await ProjectRow.unscoped().update({ removedAt: null }, { where: { id: projectId } });
  if (found === 0) throw new Refusal('not-found', 'That project was deleted more than a day ago and is forgotten.');
  await announce(sequelize, { kind: 'projects' });
}

/** Forgets clips and projects that were removed long enough ago, with what was kept for them. A linked clip's own file is not ours and stays. */
export async function forgetRemoved(folders: Folders): Promise<void> {
  const removedAt = { [Op.lt]: new Date(Date.now() - KEPT_HOURS * 3_600_000) };
  const projects = (await ProjectRow.unscoped().findAll({ where: { removedAt }, attributes: ['id'] })).map(
    ({ id }) => id,
  );
  const clips = await ClipRow.unscoped().findAll({
    where: { [Op.or]: [{ removedAt }, { projectId: projects }] },
    attributes: ['id'],
  });
  await ClipRow.unscoped().destroy({ where: { id: clips.map(({ id }) => id) } });
  await ProjectRow.unscoped().destroy({ where: { id: projects } });
  for (const { id } of clips) await rm(folders.clip(id), { recursive: true, force: true });
}
