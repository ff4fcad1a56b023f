import { QueryTypes } from 'sequelize';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { tellClips } from '../clips/actions.ts';
import { ClipRow } from '../clips/clip.ts';
import type { BatchRow } from '../history/batch.ts';
import { begin } from '../history/projectHistory.ts';
import type { Step } from '../platform/action.ts';
import { RepairStepRow } from './repairStep.ts';

/** Keeps a repair on each of these clips, as one batch that one undo takes back. What had been undone on them before can no longer be done again. */
export async function keepOnMany(
  step: Step,
  projectId: string,
  mine: { clip: ClipRow; repair: Repair }[],
  label: string,
): Promise<BatchRow> {
  const { sequelize, transaction } = step;
  const batch = await begin(projectId, { kind: 'suggestion', label, clips: mine.length, change: null }, transaction);
  const ids = mine.map(({ clip }) => clip.id);
  await sequelize.query(
    'delete from repair_steps s using clips c where s."clipId" = c.id and c.id in (:ids) and s.position > c."stepsKept"',
    { replacements: { ids }, type: QueryTypes.DELETE, transaction },
  );
  await RepairStepRow.bulkCreate(
    mine.map(({ clip, repair }) => ({
      clipId: clip.id,
      position: clip.stepsKept + 1,
      repair,
      batchId: batch.id,
    })),
    { transaction },
  );
  await ClipRow.increment('stepsKept', { where: { id: ids }, transaction });
  await tellClips(step, projectId, ids);
  return batch;
}

/** "3 clips". */
export function countOfClips(count: number): string {
  return count === 1 ? '1 clip' : `${count} clips`;
}
