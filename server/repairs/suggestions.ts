import { repairName } from '@pocket-twin/core/repair/plan/describe.ts';
import { repairFromSuggestion } from '@pocket-twin/core/repair/plan/fromSuggestion.ts';
import type { SuggestionUsed, UseSuggestion } from '@pocket-twin/core/schema/batch.ts';
import { naturalOrder } from '@pocket-twin/core/setups/namePattern.ts';
import { batchOf } from '../history/batch.ts';
import { ClipRow } from '../clips/clip.ts';
import { action, type ActionContext } from '../platform/action.ts';
import { lockProject } from '../projects/project.ts';
import { countOfClips, keepOnMany } from './keepOnMany.ts';
import { RepairStepRow } from './repairStep.ts';

/** Keeps a suggestion on the clips whose suggestion it is, or on each its own. The others are left as they are, and it is said why. */
export function useSuggestion(
  context: ActionContext,
  projectId: string,
  { clipIds, suggestion }: UseSuggestion,
): Promise<SuggestionUsed> {
  return action(context, async (step) => {
    const { transaction } = step;
    await lockProject(projectId, transaction);
    const clips = await ClipRow.findAll({
      where: { projectId, id: clipIds },
      attributes: ['id', 'fileName', 'displayName', 'state', 'summary', 'inspection', 'stepsKept'],
      transaction,
      lock: transaction.LOCK.UPDATE,
    });
    const steps = await RepairStepRow.findAll({
      where: { clipId: clips.map(({ id }) => id) },
      attributes: ['clipId', 'position', 'repair'],
      transaction,
    });
    const kept = new Map(steps.map((step) => [`${step.clipId} ${step.position}`, repairName(step.repair)]));
    const left: SuggestionUsed['left'] = [];
    const mine: ClipRow[] = [];
    for (const clip of clips) {
      const why = whyNot(clip, suggestion, kept.get(`${clip.id} ${clip.stepsKept}`) ?? null);
      if (why === null) mine.push(clip);
      else left.push({ clipId: clip.id, name: clip.displayName ?? clip.fileName, why });
    }
    left.sort((a, b) => naturalOrder(a.name, b.name));
    if (mine.length === 0) return { batch: null, left };
    const names = new Set(mine.map(({ summary }) => summary!.suggestion.name));
    const label = `${suggestion ?? (names.size === 1 ? [...names][0] : 'The suggestion of each')} kept on ${countOfClips(mine.length)}`;
    const batch = await keepOnMany(
      step,
      projectId,
      mine.map((clip) => ({ clip, repair: repairFromSuggestion(clip.inspection!)! })),
      label,
    );
    return { batch: batchOf(batch), left };
  });
}

/** null where the clip takes the suggestion. */
function whyNot({ summary, state }: ClipRow, wanted: string | null, kept: string | null): string | null {
  if (state === 'failed') return 'could not be read';
  if (!summary) return 'is not measured yet';
  if (kept && kept === (wanted ?? summary.suggestion.name)) return 'has it already';
  if (kept) return `has “${kept}” kept`;
  const { action, name } = summary.suggestion;
  if (name !== null && (wanted === null || name === wanted)) return null;
  if (action === 'none') return 'needs nothing';
  return name ? `suggests “${name}”` : 'needs a look first';
}
