import type { Transaction } from 'sequelize';
import type { History } from '@pocket-twin/core/schema/batch.ts';
import { BatchRow } from './batch.ts';

// What was done to a project, newest first to be taken back: suggestions kept, clips removed, setups changed.

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

export function newest(projectId: string, transaction?: Transaction): Promise<BatchRow | null> {
  return BatchRow.findOne({ where: { projectId, undone: false }, order: [['createdAt', 'DESC']], transaction });
}

export function oldestUndone(projectId: string, transaction?: Transaction): Promise<BatchRow | null> {
  return BatchRow.findOne({ where: { projectId, undone: true }, order: [['createdAt', 'ASC']], transaction });
}
