import { Op, QueryTypes, type Sequelize, type Transaction } from 'sequelize';
import type { History } from '@pocket-twin/core/schema/batch.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { BatchRow } from './batch.ts';
import { ClipRow } from './clip.ts';
import { lockProject } from './project.ts';
import { turnSetups, type SetupsChange } from './setupsChange.ts';

// What was done to a project, newest first to be taken back: suggestions kept, clips removed, setups changed.

export type Turned = { batch: BatchRow; clipIds: string[] };

/** Notes something that was just done. What had been undone before can no longer be done again. */
export async function begin(
  projectId: string,
  batch: Pick<BatchRow, 'kind' | 'label' | 'clips' | 'change'>,
  transaction: Transaction,
): Promise<BatchRow> {
  await BatchRow.destroy({ where: { projectId, undone: true }, transaction });
  return BatchRow.create({ projectId, ...batch }, { transaction });
}

export async function historyOf(projectId: string): Promise<History> {
  const [last, next] = await Promise.all([newest(projectId), oldestUndone(projectId)]);
  return { undo: last?.label ?? null, redo: next?.label ?? null };
}

/** Takes back what was done last. */
export function undoLast(sequelize: Sequelize, projectId: string): Promise<Turned> {
  return turn(sequelize, projectId, newest, true, 'There is nothing to undo.');
}

/** Does again what was undone last. */
export function redoNext(sequelize: Sequelize, projectId: string): Promise<Turned> {
  return turn(sequelize, projectId, oldestUndone, false, 'There is nothing to redo.');
}

function turn(
  sequelize: Sequelize,
  projectId: string,
  find: (projectId: string, transaction: Transaction) => Promise<BatchRow | null>,
  undone: boolean,
  nothing: string,
): Promise<Turned> {
  return sequelize.transaction(async (transaction) => {
    await lockProject(projectId, transaction);
    const batch = await find(projectId, transaction);
    if (!batch) throw new Refusal('conflict', nothing);
    const clipIds = await TURNS[batch.kind](sequelize, batch, undone, transaction);
    await batch.update({ undone }, { transaction });
    return { batch, clipIds };
  });
}

function newest(projectId: string, transaction?: Transaction): Promise<BatchRow | null> {
  return BatchRow.findOne({ where: { projectId, undone: false }, order: [['createdAt', 'DESC']], transaction });
}

function oldestUndone(projectId: string, transaction?: Transaction): Promise<BatchRow | null> {
  return BatchRow.findOne({ where: { projectId, undone: true }, order: [['createdAt', 'ASC']], transaction });
}

type Turn = (sequelize: Sequelize, batch: BatchRow, undone: boolean, transaction: Transaction) => Promise<string[]>;

/** How each kind is taken back, or done again. @returns the clips that changed by themselves, so that their rows are told */
const TURNS: Record<BatchRow['kind'], Turn> = {
  // Only where nothing was done to the clip since.
  suggestion: async (sequelize, { id }, undone, transaction) => {
    const rows = await sequelize.query<{ id: string }>(
      undone
        ? `update clips c set "stepsKept" = c."stepsKept" - 1 from repair_steps s where s."clipId" = c.id and s.position = c."stepsKept" and s."batchId" = :id returning c.id`
        : `update clips c set "stepsKept" = c."stepsKept" + 1 from repair_steps s where s."clipId" = c.id and s.position = c."stepsKept" + 1 and s."batchId" = :id returning c.id`,
      { replacements: { id }, type: QueryTypes.SELECT, transaction },
    );
    return rows.map((row) => row.id);
  },
  removal: async (_sequelize, { projectId, change }, undone, transaction) => {
    const { clipIds } = change as { clipIds: string[] };
    const where = { projectId, id: clipIds, removedAt: undone ? { [Op.ne]: null } : null };
    const [found] = await ClipRow.unscoped().update({ removedAt: undone ? null : new Date() }, { where, transaction });
    if (undone && found === 0)
      throw new Refusal('conflict', 'Those clips were taken out more than a day ago and are forgotten.');
    return clipIds;
  },
  setups: async (_sequelize, { projectId, change }, undone, transaction) => {
    await turnSetups(projectId, change as SetupsChange, undone ? 'before' : 'after', transaction);
    return [];
  },
};
