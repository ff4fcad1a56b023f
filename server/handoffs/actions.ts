import { mkdir, rm } from 'node:fs/promises';
import { randomUUID } from 'node:crypto';
import type { HandoffStep, HandoffWanted } from '@pocket-twin/core/schema/handoff.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { stampOf } from '@pocket-twin/media/disk/fileStamp.ts';
import { action, type ActionContext, type Step } from '../platform/action.ts';
import { idOf } from '../http/problems.ts';
import type { Folders } from '../platform/home/folders.ts';
import { lockProject } from '../projects/project.ts';
import { endIfOver } from './endHandoff.ts';
import { forecastHandoff } from './forecastHandoff.ts';
import { HandoffRow } from './handoff.ts';
import { HandoffFileRow } from './handoffFile.ts';
import type { HandoffFolders } from './handoffFolders.ts';
import { queueHandoffFiles } from './openHandoffs.ts';

interface HandoffContext extends ActionContext {
  folders: Folders;
  handoffFolders: HandoffFolders;
}

/** Makes the folder, and gives a job to every file. @throws Refusal where it can't begin */
export async function beginHandoff(context: HandoffContext, projectId: string, wanted: HandoffWanted): Promise<string> {
  const id = randomUUID();
  const { forecast, plan, paths } = await forecastHandoff(context, projectId, wanted);
  if (forecast.problem !== null) throw new Refusal('conflict', forecast.problem);
  const folder = forecast.folder ?? context.folders.handoff(id);
  await mkdir(folder, { recursive: true }).catch(() => {
    throw new Refusal(
      'not-allowed',
      `The folder ${folder} can’t be made: check who may write there, or choose another.`,
    );
  });
  // It may have come to lead elsewhere since it was looked at.
  if (forecast.folder !== null) await context.handoffFolders.ensureAllowed(folder);
  const files = plan.files.map((file, position) => ({ ...file, id: randomUUID(), position, paths: paths[position] }));
  const stamps = new Map(
    await Promise.all(
      files
        .filter(({ linked }) => linked)
        .map(async (file) => [file.id, await stampOf(file.sourcePath).catch(() => null)] as const),
    ),
  );
  await action(context, async (step) => {
    const { transaction, send, tell } = step;
    if (!(await lockProject(projectId, transaction))) throw new Refusal('not-found', 'That project does not exist.');
    await HandoffRow.create(
      { id, projectId, name: wanted.name, wanted, folder, editId: plan.edit?.row.id ?? null, state: 'running' },
      { transaction },
    );
    await HandoffFileRow.bulkCreate(
      files.map(
        ({ id: fileId, clipId, partnerId, position, name, stem, paths: planned, repair, stretches, bytes }) => ({
          ...{
            id: fileId,
            handoffId: id,
            clipId,
            partnerId,
            position,
            name,
            stem,
            paths: planned,
            repair,
            stretches,
            bytes,
          },
          state: 'waiting' as const,
        }),
      ),
      { transaction },
    );
    await send('handoffFile', ...files.map((file) => ({ fileId: file.id, seen: stamps.get(file.id) ?? undefined })));
    await tell({ kind: 'handoff', id });
  });
  return id;
}

/** @throws Refusal where there is none */
export async function findHandoff(handoffId: string): Promise<HandoffRow> {
  const row = await HandoffRow.findByPk(idOf(handoffId, 'handoff'));
  if (!row) throw new Refusal('not-found', 'That handoff is no longer there.');
  return row;
}

/** Pauses, goes on, cancels, or tries what failed again. What does not fit how it stands is refused. */
export async function stepHandoff(
  context: ActionContext,
  handoffId: string,
  { step: wanted }: HandoffStep,
): Promise<void> {
  const { id } = await findHandoff(handoffId);
  await action(context, async (step) => {
    const { transaction, tell } = step;
    const handoff = await HandoffRow.findByPk(id, { transaction, lock: transaction.LOCK.UPDATE });
    if (!handoff) throw new Refusal('not-found', 'That handoff is no longer there.');
    await STEPS[wanted](handoff, step);
    await tell({ kind: 'handoff', id });
  });
}

const STEPS: Record<HandoffStep['step'], (handoff: HandoffRow, step: Step) => Promise<void>> = {
  pause: async (handoff, { transaction }) => {
    ensureOneOf(handoff, ['running', 'held']);
    await handoff.update({ state: 'paused', said: null }, { transaction });
  },
  'go-on': async (handoff, step) => {
    ensureOneOf(handoff, ['paused', 'held']);
    await handoff.update({ state: 'running', said: null }, { transaction: step.transaction });
    await queueHandoffFiles(step, handoff.id);
    await endIfOver(handoff, step);
  },
  // What is being written stops by itself (writeHandoffFile.ts).
  cancel: async (handoff, step) => {
    ensureOneOf(handoff, ['running', 'paused', 'held']);
    const { transaction } = step;
    await HandoffFileRow.update(
      { state: 'cancelled' },
      { where: { handoffId: handoff.id, state: 'waiting' }, transaction },
    );
    await handoff.update({ state: 'finishing', said: null }, { transaction });
    await endIfOver(handoff, step);
  },
  'try-failed': async (handoff, step) => {
    ensureOneOf(handoff, ['done', 'cancelled']);
    const { transaction } = step;
    const [again] = await HandoffFileRow.update(
      { state: 'waiting', error: null },
      { where: { handoffId: handoff.id, state: ['failed', 'cancelled'] }, transaction },
    );
    if (again === 0) throw new Refusal('conflict', 'Nothing of it has failed: there is nothing to try again.');
    await handoff.update({ state: 'running', said: null, finishedAt: null }, { transaction });
    await queueHandoffFiles(step, handoff.id);
  },
};

function ensureOneOf({ state }: HandoffRow, states: HandoffRow['state'][]): void {
  if (states.includes(state)) return;
  const now = {
    running: 'is running',
    paused: 'is paused',
    held: 'waits',
    finishing: 'is ending',
    done: 'is done',
    cancelled: 'was cancelled',
  };
  throw new Refusal('conflict', `That can’t be done now: the handoff ${now[state]}.`);
}

/** Forgets one that is over. What lies in a person's own folder stays there; what was kept to be fetched goes. */
export async function forgetHandoff(context: HandoffContext, handoffId: string): Promise<void> {
  const handoff = await findHandoff(handoffId);
  ensureOneOf(handoff, ['done', 'cancelled']);
  await action(context, async ({ transaction, tell }) => {
    await handoff.destroy({ transaction });
    await tell({ kind: 'lineup', projectId: handoff.projectId });
  });
  if (handoff.wanted.place.kind === 'download')
    await rm(context.folders.handoff(handoff.id), { recursive: true, force: true });
}
