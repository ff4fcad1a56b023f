import { QueryTypes } from 'sequelize';
import type { Step } from '../platform/action.ts';
import { nobodyIsAt } from '../platform/queue/openRows.ts';

/** Has setups formed where measured clips are in none and nobody is at it. @returns in how many projects */
export async function queueLooseClips({ sequelize, transaction, send }: Step): Promise<number> {
  const projects = await sequelize.query<{ projectId: string }>(
    `
    select distinct c."projectId" from clips c
    where c.state = 'ready' and c.summary is not null and c."setupId" is null and c."removedAt" is null and ${nobodyIsAt('setups', 'projectId', 'c."projectId"')}`,
    { type: QueryTypes.SELECT, transaction },
  );
  await send('setups', ...projects);
  return projects.length;
}
