import { QueryTypes, type Sequelize } from 'sequelize';
import { repairName } from '@pocket-twin/core/repair/describe.ts';
import { repairFromSuggestion } from '@pocket-twin/core/repair/fromSuggestion.ts';
import type { Batch, SuggestionUsed, UseSuggestion } from '@pocket-twin/core/schema/batch.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { BatchRow } from './batch.ts';
import { ClipRow } from './clip.ts';
import { RepairStepRow } from './repairStep.ts';

/** Keeps a suggestion on the clips whose suggestion it is. The others are left as they are, and it is said why. */
export function useSuggestion(sequelize: Sequelize, projectId: string, { clipIds, suggestion }: UseSuggestion): Promise<{ used: SuggestionUsed; clipIds: string[] }> {
  return sequelize.transaction(async (transaction) => {
    const clips = await ClipRow.findAll({ where: { projectId, id: clipIds }, transaction, lock: transaction.LOCK.UPDATE });
    const steps = await RepairStepRow.findAll({ where: { clipId: clips.map(({ id }) => id) }, attributes: ['clipId', 'position', 'repair'], transaction });
    const kept = new Map(steps.map((step) => [`${step.clipId} ${step.position}`, repairName(step.repair)]));
    const left: SuggestionUsed['left'] = [];
    const mine: ClipRow[] = [];
    for (const clip of clips) {
      const why = whyNot(clip, suggestion, kept.get(`${clip.id} ${clip.stepsKept}`) ?? null);
      if (why === null) mine.push(clip);
      else left.push({ clipId: clip.id, name: clip.displayName ?? clip.name, why });
    }
    if (mine.length === 0) return { used: { batch: null, left }, clipIds: [] };
    const batch = await BatchRow.create({ projectId, label: suggestion }, { transaction });
    const ids = mine.map(({ id }) => id);
    await sequelize.query(
      'delete from repair_steps s using clips c where s."clipId" = c.id and c.id in (:ids) and s.position > c."stepsKept"',
      { replacements: { ids }, type: QueryTypes.DELETE, transaction },
    );
    await RepairStepRow.bulkCreate(mine.map((clip) => ({
      clipId: clip.id, position: clip.stepsKept + 1, repair: repairFromSuggestion(clip.inspection!)!, batchId: batch.id,
    })), { transaction });
    await ClipRow.increment('stepsKept', { where: { id: ids }, transaction });
    return { used: { batch: batchOf(batch, ids.length), left }, clipIds: ids };
  });
}

/** null where the clip takes the suggestion. */
function whyNot({ summary, state }: ClipRow, wanted: string, kept: string | null): string | null {
  if (state === 'failed') return 'could not be read';
  if (!summary) return 'is not measured yet';
  if (kept === wanted) return 'has it already';
  if (kept) return `has “${kept}” kept`;
  const { action, name } = summary.suggestion;
  if (name === wanted) return null;
  if (action === 'none') return 'needs nothing';
  return name ? `suggests “${name}”` : 'needs a look first';
}

/** Takes a batch back on every clip where nothing was done since. @returns the clips that changed */
export function undoBatch(sequelize: Sequelize, projectId: string, batchId: string): Promise<{ batch: Batch; clipIds: string[] }> {
  return sequelize.transaction(async (transaction) => {
    const batch = await BatchRow.findOne({ where: { id: batchId, projectId }, transaction, lock: transaction.LOCK.UPDATE });
    if (!batch) throw new Refusal('not-found', 'There is nothing of that kind to undo.');
    if (batch.undone) throw new Refusal('conflict', 'That has been undone already.');
    const rows = await sequelize.query<{ id: string }>(`
      update clips c set "stepsKept" = c."stepsKept" - 1 from repair_steps s
      where s."clipId" = c.id and s.position = c."stepsKept" and s."batchId" = :batchId returning c.id`,
    { replacements: { batchId }, type: QueryTypes.SELECT, transaction });
    await batch.update({ undone: true }, { transaction });
    return { batch: batchOf(batch, rows.length), clipIds: rows.map(({ id }) => id) };
  });
}

function batchOf({ id, projectId, label, undone }: BatchRow, clips: number): Batch {
  return { id, projectId, label, clips, undone };
}
