import { rm } from 'node:fs/promises';
import { Op } from 'sequelize';
import { ClipRow } from '../clips/clip.ts';
import type { Folders } from '../platform/home/folders.ts';
import { ProjectRow } from './project.ts';

const KEPT_HOURS = 24;

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
