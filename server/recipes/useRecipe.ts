import type { Transaction } from 'sequelize';
import { changesNothing, sameRepair } from '@pocket-twin/core/repair/plan/compare.ts';
import { repairName } from '@pocket-twin/core/repair/plan/describe.ts';
import { findsOf, unfitFor } from '@pocket-twin/core/repair/plan/recipes.ts';
import type { RecipeJob } from '@pocket-twin/core/contract/jobs.ts';
import type { SuggestionUsed } from '@pocket-twin/core/schema/batch.ts';
import type { Recipe, RecipeForecast, RecipeUse } from '@pocket-twin/core/schema/recipe.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { naturalOrder } from '@pocket-twin/core/setups/namePattern.ts';
import { inThread } from '@pocket-twin/media/threads/inThread.ts';
import { ClipRow } from '../clips/clip.ts';
import { batchOf } from '../history/batch.ts';
import { action, type ActionContext } from '../platform/action.ts';
import { lockProject } from '../projects/project.ts';
import { RecipeRow } from './recipe.ts';
import { countOfClips, keepOnMany } from '../repairs/keepOnMany.ts';
import { RepairStepRow } from '../repairs/repairStep.ts';

const ATTRIBUTES = ['id', 'fileName', 'displayName', 'state', 'inspection', 'pcm', 'stepsKept'];

/** What a recipe will do on clips, before anything is kept. */
export async function forecastRecipe(projectId: string, { clipIds, recipe }: RecipeUse): Promise<RecipeForecast> {
  const clips = await ClipRow.findAll({ where: { projectId, id: clipIds }, attributes: ATTRIBUTES });
  const kept = await keptOn(clips);
  const forecast: RecipeForecast = { fits: [], left: [] };
  for (const clip of clips) {
    const of = { clipId: clip.id, name: nameOf(clip) };
    const why = whyNot(clip, recipe, kept.get(clip.id) ?? null);
    if (why === null) forecast.fits.push(of);
    else forecast.left.push({ ...of, ...why });
  }
  forecast.fits.sort((a, b) => naturalOrder(a.name, b.name));
  forecast.left.sort((a, b) => naturalOrder(a.name, b.name));
  return forecast;
}

/**
 * Keeps a recipe's repair on the clips that it fits, and on those that a person named; the others are left as they are, and it is said why.
 * @param occasion what is said of it besides, in its name among what can be undone
 */
export async function useRecipe(
  context: ActionContext,
  projectId: string,
  use: RecipeUse,
  occasion = '',
): Promise<SuggestionUsed> {
  const { clipIds, recipe, also } = use;
  const found = await findEach(projectId, use);
  return action(context, async (step) => {
    const { transaction } = step;
    await lockProject(projectId, transaction);
    const clips = await ClipRow.findAll({
      where: { projectId, id: clipIds },
      attributes: ATTRIBUTES,
      transaction,
      lock: transaction.LOCK.UPDATE,
    });
    const kept = await keptOn(clips, transaction);
    const left: SuggestionUsed['left'] = [];
    const mine: { clip: ClipRow; repair: Repair }[] = [];
    for (const clip of clips) {
      const why = whyNot(clip, recipe, kept.get(clip.id) ?? null);
      const made = found.get(clip.id) ?? recipe.repair;
      const forced = why?.canBeForced === true && also.includes(clip.id);
      if (why !== null && !forced) left.push({ clipId: clip.id, name: nameOf(clip), why: why.why });
      else if (typeof made === 'string') left.push({ clipId: clip.id, name: nameOf(clip), why: made });
      else mine.push({ clip, repair: made });
    }
    left.sort((a, b) => naturalOrder(a.name, b.name));
    if (mine.length === 0) return { batch: null, left };
    const label = `“${recipe.name}” kept on ${countOfClips(mine.length)}${occasion}`;
    const batch = await keepOnMany(step, projectId, mine, label);
    return { batch: batchOf(batch), left };
  });
}

/** Clips that came in with a setup get its recipe; whatever it does not fit, or has been decided meanwhile, stays as it is. */
export async function useOnNewcomers(
  context: ActionContext,
  { projectId, recipeId, clipIds }: RecipeJob,
): Promise<void> {
  const row = await RecipeRow.findByPk(recipeId);
  if (row) await useRecipe(context, projectId, { clipIds, recipe: row.recipe, also: [] }, ' that came in');
}

/** What lies elsewhere in each clip is looked for before anything is locked: the repair, or why there is none. */
async function findEach(projectId: string, { clipIds, recipe }: RecipeUse): Promise<Map<string, Repair | string>> {
  const found = new Map<string, Repair | string>();
  if (recipe.finds.length === 0) return found;
  const finds = findsOf(recipe);
  const clips = await ClipRow.findAll({ where: { projectId, id: clipIds }, attributes: ATTRIBUTES });
  for (const { id, pcm, inspection } of clips) {
    if (!pcm || !inspection || inspection.format.channels !== recipe.repair.inputChannels) continue;
    const one = await inThread('find', { source: pcm, base: recipe.repair, finds, inspection });
    found.set(
      id,
      'whyNot' in one ? one.whyNot : changesNothing(one.repair) ? 'Nothing was found on it to mend.' : one.repair,
    );
  }
  return found;
}

async function keptOn(clips: ClipRow[], transaction?: Transaction): Promise<Map<string, Repair>> {
  const steps = await RepairStepRow.findAll({
    where: { clipId: clips.map(({ id }) => id) },
    attributes: ['clipId', 'position', 'repair'],
    transaction,
  });
  const inForce = new Map(clips.map(({ id, stepsKept }) => [id, stepsKept]));
  return new Map(
    steps
      .filter(({ clipId, position }) => inForce.get(clipId) === position)
      .map(({ clipId, repair }) => [clipId, repair]),
  );
}

/** null where the clip takes the recipe. Whose channels do not fit can't be forced; what a person has kept or what would lose something can. */
function whyNot(
  { state, inspection }: ClipRow,
  recipe: Recipe,
  kept: Repair | null,
): { why: string; canBeForced: boolean } | null {
  if (state === 'failed') return { why: 'It could not be read.', canBeForced: false };
  if (!inspection) return { why: 'It is not measured yet.', canBeForced: false };
  const isFor = inspection.format.channels === recipe.needs.channels;
  if (kept && sameRepair(kept, recipe.repair)) return { why: 'It has this already.', canBeForced: false };
  const unfit = unfitFor(recipe, inspection);
  if (unfit !== null) return { why: unfit, canBeForced: isFor };
  return kept ? { why: `“${repairName(kept)}” is kept on it.`, canBeForced: true } : null;
}

function nameOf({ displayName, fileName }: ClipRow): string {
  return displayName ?? fileName;
}
