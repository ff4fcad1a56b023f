import { QueryTypes } from 'sequelize';
import type { Step } from '../platform/action.ts';
import { nobodyIsAt } from '../platform/queue/openRows.ts';
import { endIfOver } from './endHandoff.ts';
import { whyHeld } from './hold.ts';
import { HandoffRow } from './handoff.ts';

/** Gives a job to every file of a handoff that waits for one and has none. @returns how many got one */
export async function queueHandoffFiles(
  { sequelize, transaction, send }: Step,
  handoffId: string | null = null,
): Promise<number> {
  const files = await sequelize.query<{ id: string }>(
    `
    select f.id from handoff_files f join handoffs h on h.id = f."handoffId"
    where h.state in ('running', 'finishing') and f.state in ('waiting', 'writing') and (cast(:handoffId as uuid) is null or h.id = :handoffId)
      and ${nobodyIsAt('handoffFile', 'fileId', 'f.id')}
    order by f.position for update of f skip locked`,
    { replacements: { handoffId }, type: QueryTypes.SELECT, transaction },
  );
  await send('handoffFile', ...files.map(({ id }) => ({ fileId: id })));
  return files.length;
}

/** What was held goes on once there is room, or the folder is there again; what lost its job gets one; what is over is ended. */
export async function queueOpenHandoffs(step: Step): Promise<number> {
  const { transaction, tell } = step;
  const open = await HandoffRow.findAll({
    where: { state: ['running', 'held', 'finishing'] },
    transaction,
    lock: transaction.LOCK.UPDATE,
    skipLocked: true,
  });
  for (const handoff of open) {
    if (handoff.state !== 'held') continue;
    if ((await whyHeld(handoff, transaction)) !== null) continue;
    await handoff.update({ state: 'running', said: null }, { transaction });
    await tell({ kind: 'handoff', id: handoff.id });
  }
  const queued = await queueHandoffFiles(step);
  for (const handoff of open) if (handoff.state !== 'held') await endIfOver(handoff, step);
  return queued;
}
