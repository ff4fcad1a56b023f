import { QueryTypes } from 'sequelize';
import type { Step } from '../platform/action.ts';
import { nobodyIsAt } from '../platform/queue/openRows.ts';

/**
 * Gives a job to every clip that is to be measured and has none: it was put back after the queue had passed it, or its job was lost.
 * @param projectId only of this project. @returns how many got one
 */
export async function queueOpenClips({ sequelize, transaction, send }: Step, projectId?: string): Promise<number> {
  const clips = await sequelize.query<{ id: string }>(
    `
    select c.id from clips c join projects p on p.id = c."projectId"
    where c.state in ('waiting', 'reading') and c."removedAt" is null and p."removedAt" is null ${projectId ? 'and c."projectId" = :projectId' : ''}
      and ${nobodyIsAt('inspect', 'clipId', 'c.id')}
    for update of c skip locked`,
    { type: QueryTypes.SELECT, replacements: { projectId }, transaction },
  );
  await send('inspect', ...clips.map(({ id }) => ({ clipId: id })));
  return clips.length;
}
