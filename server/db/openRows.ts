import { QueryTypes, type Sequelize, type Transaction } from 'sequelize';

// Rows that wait for a job and have none. The queue's own table tells of live jobs by their queue and, in their data, the row's id.

// Of all who look after rows one does at a time.
const LOCK = [4820, 1] as const;

const nobodyIsAt = (queue: string, key: string, value: string): string => `
  not exists (select 1 from queue.job j where j.name = '${queue}' and j.state in ('created', 'retry', 'active') and j.data->>'${key}' = ${value}::text)`;

/** Whether this transaction is the one that may look now. */
export async function mayLookForOpenRows(sequelize: Sequelize, transaction: Transaction): Promise<boolean> {
  const [{ free }] = await sequelize.query<{ free: boolean }>(
    `select pg_try_advisory_xact_lock(${LOCK.join(', ')}) as free`,
    { type: QueryTypes.SELECT, transaction },
  );
  return free;
}

/** Clips that are to be measured. @param projectId only of this project */
export async function openClips(sequelize: Sequelize, transaction: Transaction, projectId?: string): Promise<string[]> {
  const rows = await sequelize.query<{ id: string }>(
    `
    select c.id from clips c join projects p on p.id = c."projectId"
    where c.state in ('waiting', 'reading') and c."removedAt" is null and p."removedAt" is null ${projectId ? 'and c."projectId" = :projectId' : ''}
      and ${nobodyIsAt('inspect', 'clipId', 'c.id')}
    for update of c skip locked`,
    { type: QueryTypes.SELECT, replacements: { projectId }, transaction },
  );
  return rows.map(({ id }) => id);
}

export async function openWritings(sequelize: Sequelize, transaction: Transaction): Promise<string[]> {
  const rows = await sequelize.query<{ id: string }>(
    `
    select w.id from writings w where w.state in ('waiting', 'writing') and ${nobodyIsAt('write', 'writingId', 'w.id')}
    for update of w skip locked`,
    { type: QueryTypes.SELECT, transaction },
  );
  return rows.map(({ id }) => id);
}

/** Projects with measured clips that no setup has taken in. */
export async function projectsWithLooseClips(sequelize: Sequelize, transaction: Transaction): Promise<string[]> {
  const rows = await sequelize.query<{ projectId: string }>(
    `
    select distinct c."projectId" from clips c
    where c.state = 'ready' and c.summary is not null and c."setupId" is null and c."removedAt" is null and ${nobodyIsAt('setups', 'projectId', 'c."projectId"')}`,
    { type: QueryTypes.SELECT, transaction },
  );
  return rows.map(({ projectId }) => projectId);
}
