import type { Transaction } from 'sequelize';
import { VERDICTS } from '@pocket-twin/core/diagnose/catalogue/verdicts.ts';
import { soundOf } from '@pocket-twin/core/setups/setupClip.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { ClipMove, SetupChange, SetupMerge } from '@pocket-twin/core/schema/setup.ts';
import type { BatchRow } from '../history/batch.ts';
import type { PairAnswer } from '@pocket-twin/core/schema/lineup.ts';
import { action, type ActionContext } from '../platform/action.ts';
import { ClipPairRow } from './clipPair.ts';
import { ClipRow } from '../clips/clip.ts';
import { lockProject } from '../projects/project.ts';
import { begin } from '../history/projectHistory.ts';
import { SetupRow } from './setup.ts';
import { changeSetups } from './setupsChange.ts';

// What a person says of setups. It is theirs from then on: forming setups again keeps it, and it can be taken back.

async function findSetup(projectId: string, id: string, transaction: Transaction): Promise<SetupRow> {
  const setup = await SetupRow.findOne({ where: { id, projectId }, transaction });
  if (!setup) throw new Refusal('not-found', 'That setup is no longer in the project.');
  return setup;
}

/** The name, roles or intake of a setup. */
export function changeSetup(
  context: ActionContext,
  projectId: string,
  id: string,
  { name, roles, intake, recipeId }: SetupChange,
): Promise<BatchRow> {
  return onSetups(context, projectId, async (transaction) => {
    const setup = await findSetup(projectId, id, transaction);
    const before = setup.name;
    const change = await changeSetups(projectId, [id], transaction, async () => {
      await setup.update(
        {
          ...(name !== undefined && { name, named: true }),
          ...(roles !== undefined && { roles, rolesGiven: true }),
          ...(recipeId !== undefined && { recipeId }),
          ...(intake !== undefined && (intake === null ? { intakeGiven: false } : { intake, intakeGiven: true })),
        },
        { transaction },
      );
      return [];
    });
    return begin(
      projectId,
      {
        kind: 'setups',
        label: name !== undefined && name !== before ? `“${before}” renamed to “${name}”` : `“${setup.name}” changed`,
        clips: 0,
        change,
      },
      transaction,
    );
  });
}

/** Moves clips into a setup, or into a new one of their own (a split). Where they go and where they came from is the person's from then on. */
export function moveClips(
  context: ActionContext,
  projectId: string,
  { clipIds, to }: ClipMove,
): Promise<{ setupId: string; batch: BatchRow }> {
  return onSetups(context, projectId, async (transaction) => {
    const clips = await ClipRow.findAll({
      where: { projectId, id: clipIds },
      attributes: ['id', 'setupId', 'state'],
      transaction,
    });
    if (clips.length === 0) throw new Refusal('not-found', 'Those clips are no longer in the project.');
    const unmeasured = clips.filter(({ state }) => state !== 'ready').length;
    if (unmeasured > 0)
      throw new Refusal(
        'conflict',
        `${unmeasured === 1 ? 'One of them is' : `${unmeasured} of them are`} not measured yet, or not readable. Move ${unmeasured === 1 ? 'it' : 'them'} when ${unmeasured === 1 ? 'it is' : 'they are'} measured.`,
      );
    // Measured a moment ago, a clip may not be in a setup yet: it can be moved as well.
    const loose = clips.filter(({ setupId }) => setupId === null).map(({ id }) => id);
    const sources = clips.flatMap(({ setupId }) => setupId ?? []);
    const known = typeof to === 'string' ? await findSetup(projectId, to, transaction) : null;
    let target = known;
    const change = await changeSetups(
      projectId,
      [...sources, ...(known ? [known.id] : [])],
      transaction,
      async () => {
        target ??= await SetupRow.create(
          { projectId, name: (to as { newName: string }).newName, named: true },
          { transaction },
        );
        await ClipRow.update({ setupId: target.id }, { where: { id: clips.map(({ id }) => id) }, transaction });
        await SetupRow.update({ touched: true }, { where: { id: [...sources, target.id] }, transaction });
        return known ? [] : [target];
      },
      loose,
    );
    const moved = change.clips.length;
    const batch = await begin(
      projectId,
      { kind: 'setups', label: `${counted(moved)} moved to “${target!.name}”`, clips: moved, change },
      transaction,
    );
    return { setupId: target!.id, batch };
  });
}

/** Puts all of one setup into another. */
export function mergeSetups(
  context: ActionContext,
  projectId: string,
  { from, into, name }: SetupMerge,
): Promise<BatchRow> {
  return onSetups(context, projectId, async (transaction) => {
    if (from === into) throw new Refusal('bad-request', 'A setup cannot be merged with itself.');
    const [gone, kept] = [await findSetup(projectId, from, transaction), await findSetup(projectId, into, transaction)];
    const change = await changeSetups(projectId, [from, into], transaction, async () => {
      await ClipRow.unscoped().update({ setupId: into }, { where: { projectId, setupId: from }, transaction });
      await kept.update({ touched: true, named: true, ...(name !== undefined && { name }) }, { transaction });
      await gone.destroy({ transaction });
      return [];
    });
    return begin(
      projectId,
      { kind: 'setups', label: `“${gone.name}” merged into “${kept.name}”`, clips: change.clips.length, change },
      transaction,
    );
  });
}

/** Makes of a setup in which no one thing holds a setup for each thing that does; the largest part keeps the setup itself. */
export function splitSetup(context: ActionContext, projectId: string, id: string): Promise<BatchRow> {
  return onSetups(context, projectId, async (transaction) => {
    const setup = await findSetup(projectId, id, transaction);
    const clips = await ClipRow.findAll({
      where: { projectId, setupId: id, state: 'ready' },
      attributes: ['id', 'summary'],
      transaction,
    });
    const bySound = new Map<string, { sound: string; clipIds: string[] }>();
    for (const { id: clipId, summary } of clips) {
      if (!summary) continue;
      const alike = bySound.get(soundOf(summary));
      if (alike) alike.clipIds.push(clipId);
      else bySound.set(soundOf(summary), { sound: VERDICTS[summary.verdict].inSetup(summary.side), clipIds: [clipId] });
    }
    const [, ...others] = [...bySound.values()].sort((a, b) => b.clipIds.length - a.clipIds.length);
    if (others.length === 0)
      throw new Refusal('conflict', `All of “${setup.name}” carries the same: there is nothing to split.`);
    const change = await changeSetups(projectId, [id], transaction, async () => {
      const made: SetupRow[] = [];
      for (const { sound, clipIds } of others) {
        const split = await SetupRow.create(
          { projectId, name: `${setup.name}, ${sound}`, touched: true },
          { transaction },
        );
        await ClipRow.update({ setupId: split.id }, { where: { id: clipIds }, transaction });
        made.push(split);
      }
      await setup.update({ touched: true }, { transaction });
      return made;
    });
    return begin(
      projectId,
      {
        kind: 'setups',
        label: `“${setup.name}” split into ${bySound.size} by what they carry`,
        clips: change.clips.length,
        change,
      },
      transaction,
    );
  });
}

/** What a person says of setups counts at once; the queue then holds the newcomers against it. */
function onSetups<Result>(
  context: ActionContext,
  projectId: string,
  change: (transaction: Transaction) => Promise<Result>,
): Promise<Result> {
  return action(context, async ({ transaction, tell, sendSoon }) => {
    await lockProject(projectId, transaction);
    const changed = await change(transaction);
    await tell({ kind: 'lineup', projectId });
    await sendSoon('setups', { projectId }, projectId);
    return changed;
  });
}

/** Whether two files are the left and the right of one recording. */
export function answerPair(context: ActionContext, projectId: string, { accept, ...pair }: PairAnswer): Promise<void> {
  return action(context, async ({ transaction, tell }) => {
    const [found] = await ClipPairRow.update(
      { state: accept ? 'accepted' : 'declined' },
      { where: { ...pair, projectId }, transaction },
    );
    if (found === 0) throw new Refusal('not-found', 'Those two clips were not proposed as a pair.');
    await tell({ kind: 'lineup', projectId });
  });
}

function counted(clips: number): string {
  return clips === 1 ? '1 clip' : `${clips} clips`;
}
