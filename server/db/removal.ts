import { rm } from 'node:fs/promises';
import { Op, type Sequelize } from 'sequelize';
import { announce } from './changes.ts';
import { ClipRow } from './clip.ts';
import type { Folders } from '../storage/folders.ts';

const KEPT_HOURS = 24;

/** Takes clips out of their project. They can be put back for a day. */
export async function removeClips(sequelize: Sequelize, projectId: string, clipIds: string[]): Promise<void> {
  await ClipRow.update({ removedAt: new Date() }, { where: { projectId, id: clipIds } });
  await announceRemoval(sequelize, projectId, clipIds);
}

export async function restoreClips(sequelize: Sequelize, projectId: string, clipIds: string[]): Promise<void> {
  await ClipRow.unscoped().update({ removedAt: null }, { where: { projectId, id: clipIds } });
  await announce(sequelize, { kind: 'lineup', projectId });
}

async function announceRemoval(sequelize: Sequelize, projectId: string, clipIds: string[]): Promise<void> {
  if (clipIds.length === 1) await announce(sequelize, { kind: 'clip-removed', id: clipIds[0], projectId });
  await announce(sequelize, { kind: 'lineup', projectId });
}

/** Forgets clips that were removed long enough ago, with what was kept for them. A linked clip's own file is not ours and stays. */
export async function forgetRemoved(folders: Folders): Promise<void> {
  const where = { removedAt: { [Op.lt]: new Date(Date.now() - KEPT_HOURS * 3_600_000) } };
  const gone = await ClipRow.unscoped().findAll({ where, attributes: ['id'] });
  await ClipRow.unscoped().destroy({ where: { id: gone.map(({ id }) => id) } });
  for (const { id } of gone) await rm(folders.clip(id), { recursive: true, force: true });
}
