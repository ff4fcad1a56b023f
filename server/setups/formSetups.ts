import { Op, type Transaction } from 'sequelize';
import type { RecipeJob, SetupsJob } from '@pocket-twin/core/contract/jobs.ts';
import { describeSetups } from '@pocket-twin/core/setups/describeSetup.ts';
import { formSetups, type FormedSetup } from '@pocket-twin/core/setups/formSetups.ts';
import { naturalOrder } from '@pocket-twin/core/setups/namePattern.ts';
import { proposePairs } from '@pocket-twin/core/setups/proposePairs.ts';
import type { SetupClip } from '@pocket-twin/core/setups/setupClip.ts';
import { action, type ActionContext } from '../platform/action.ts';
import { ClipRow } from '../clips/clip.ts';
import { ClipPairRow } from './clipPair.ts';
import { lockProject } from '../projects/project.ts';
import { SetupRow } from './setup.ts';

/** Puts a project's measured clips into setups again, keeping what a person decided, and looks for files that belong together as left and right. */
export function formProjectSetups(context: ActionContext, { projectId }: SetupsJob): Promise<void> {
  return action(context, async ({ transaction, tell, send }) => {
    // One at a time for a project.
    if (!(await lockProject(projectId, transaction))) return;
    const clips = await ClipRow.findAll({
      where: { projectId, state: 'ready', summary: { [Op.ne]: null } },
      attributes: ['id', 'fileName', 'folder', 'facts', 'summary', 'sketch', 'setupId'],
      transaction,
    });
    const setups = await SetupRow.findAll({ where: { projectId }, transaction });
    const members = new Map<string, string[]>(setups.map(({ id }) => [id, []]));
    for (const { id, setupId } of clips) if (setupId !== null) members.get(setupId)?.push(id);
    // Removed clips can come back, and belong where they were.
    const inUse = new Set(
      (
        await ClipRow.unscoped().findAll({
          where: { projectId },
          attributes: ['setupId'],
          group: ['setupId'],
          transaction,
        })
      ).map(({ setupId }) => setupId),
    );
    const formed = formSetups(
      clips.map(setupClipOf),
      setups.map((setup) => ({
        id: setup.id,
        members: members.get(setup.id)!,
        touched:
          setup.named ||
          setup.rolesGiven ||
          setup.intakeGiven ||
          setup.recipeId !== null ||
          (setup.touched && inUse.has(setup.id)),
      })),
    );
    const recipeJobs = await keepFormed(projectId, formed, setups, clips, transaction);
    await keepPairs(projectId, clips, transaction);
    await send('recipe', ...recipeJobs);
    await tell({ kind: 'lineup', projectId });
  });
}

function setupClipOf({ id, fileName, folder, facts, summary }: ClipRow): SetupClip {
  const { verdict, side, channels, sampleRate, bitDepth, codec, hasVideo } = summary!;
  return {
    id,
    fileName,
    folder,
    verdict,
    side,
    sampleRate,
    bitDepth,
    codec,
    hasVideo,
    channels: channels.length,
    recorder: facts?.recorder ?? null,
    trackNames: facts?.trackNames ?? [],
    recordedAt: facts?.recordedAt ?? null,
    layout: facts?.streams[0]?.layout ?? null,
    noiseFloorsDbfs: channels.map(({ noiseFloorDbfs }) => noiseFloorDbfs),
  };
}

/** @returns what is to be done to clips that came in with a setup that has a recipe */
async function keepFormed(
  projectId: string,
  formed: FormedSetup[],
  known: SetupRow[],
  clips: ClipRow[],
  transaction: Transaction,
): Promise<RecipeJob[]> {
  const jobs: RecipeJob[] = [];
  const homes = new Map(clips.map(({ id, setupId }) => [id, setupId]));
  const keepsName = (row: SetupRow): boolean => row.named || row.touched;
  const taken = known.filter(keepsName).map(({ name }) => name);
  const facts = describeSetups(
    formed.map((setup) => setup.clips),
    taken,
  );
  for (const [i, { id, clips: members }] of formed.entries()) {
    const row = known.find((setup) => setup.id === id) ?? SetupRow.build({ projectId, name: '' });
    const { name, roles, intake, ...rest } = facts[i];
    await row
      .set({
        ...rest,
        ...(!keepsName(row) && { name }),
        ...(!row.rolesGiven && { roles }),
        ...(!row.intakeGiven && { intake }),
      })
      .save({ transaction });
    const newcomers = members.map((clip) => clip.id).filter((clipId) => homes.get(clipId) !== row.id);
    if (newcomers.length > 0) await ClipRow.update({ setupId: row.id }, { where: { id: newcomers }, transaction });
    const justCame = newcomers.filter((clipId) => homes.get(clipId) === null);
    if (row.recipeId && justCame.length > 0) jobs.push({ projectId, recipeId: row.recipeId, clipIds: justCame });
  }
  const kept = new Set(formed.map(({ id }) => id));
  const empty = known.filter(({ id }) => !kept.has(id)).map(({ id }) => id);
  if (empty.length > 0) await SetupRow.destroy({ where: { id: empty }, transaction });
  return jobs;
}

async function keepPairs(projectId: string, clips: ClipRow[], transaction: Transaction): Promise<void> {
  const proposed = proposePairs(
    clips
      .sort((a, b) => naturalOrder(a.fileName, b.fileName))
      .map(({ id, fileName, folder, facts, summary, sketch }) => ({
        id,
        fileName,
        folder,
        channels: summary!.channels.length,
        sampleRate: summary!.sampleRate,
        frames: summary!.frames,
        startSamples: facts?.startSamples ?? null,
        sketch: sketch ?? [],
      })),
  );
  await ClipPairRow.bulkCreate(
    proposed.map((pair) => ({ ...pair, projectId, state: 'proposed' as const })),
    { ignoreDuplicates: true, transaction },
  );
}
