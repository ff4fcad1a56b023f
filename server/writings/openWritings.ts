import { QueryTypes } from 'sequelize';
import type { Step } from '../platform/action.ts';
import { nobodyIsAt } from '../platform/queue/openRows.ts';

/** Gives a job to every writing that waits for one and has none. @returns how many got one */
export async function queueOpenWritings({ sequelize, transaction, send }: Step): Promise<number> {
  const writings = await sequelize.query<{ id: string }>(
    `
    select w.id from writings w where w.state in ('waiting', 'writing') and ${nobodyIsAt('write', 'writingId', 'w.id')}
    for update of w skip locked`,
    { type: QueryTypes.SELECT, transaction },
  );
  await send('write', ...writings.map(({ id }) => ({ writingId: id })));
  return writings.length;
}
