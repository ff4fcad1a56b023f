import { availableParallelism } from 'node:os';
import { initClip } from './clips/clip.ts';
import { giveUpInspecting, inspectClip } from './clips/inspectClip.ts';
import { queueOpenClips } from './clips/openClips.ts';
import { clipRoutes } from './clips/routes.ts';
import { initBatch } from './history/batch.ts';
import { initEdit } from './edits/edit.ts';
import { editRoutes } from './edits/routes.ts';
import { endHandoff, giveUpEnding } from './handoffs/endHandoff.ts';
import { initHandoff } from './handoffs/handoff.ts';
import { initHandoffFile } from './handoffs/handoffFile.ts';
import { queueOpenHandoffs } from './handoffs/openHandoffs.ts';
import { handoffRoutes } from './handoffs/routes.ts';
import { giveUpHandoffFile, writeHandoffFile } from './handoffs/writeHandoffFile.ts';
import { historyRoutes } from './history/routes.ts';
import { lineupRoutes } from './lineup/routes.ts';
import { mediaFolderRoutes } from './mediaFolders/routes.ts';
import { initProject } from './projects/project.ts';
import { projectRoutes } from './projects/routes.ts';
import { joinRoutes } from './joins/routes.ts';
import { initKeyChanges } from './keyChanges/keyChanges.ts';
import { keyChangesRoutes } from './keyChanges/routes.ts';
import { initRecipe } from './recipes/recipe.ts';
import { recipeRoutes } from './recipes/routes.ts';
import { useOnNewcomers } from './recipes/useRecipe.ts';
import { initRepairStep } from './repairs/repairStep.ts';
import { repairRoutes } from './repairs/routes.ts';
import { initClipPair } from './setups/clipPair.ts';
import { formProjectSetups } from './setups/formSetups.ts';
import { queueLooseClips } from './setups/looseClips.ts';
import { setupRoutes } from './setups/routes.ts';
import { initSetup } from './setups/setup.ts';
import type { Subject } from './subject.ts';
import { queueOpenWritings } from './writings/openWritings.ts';
import { writingRoutes } from './writings/routes.ts';
import { giveUpWriting, writeRepair } from './writings/writeRepair.ts';
import { initWriting } from './writings/writing.ts';

/** What the application, the worker and the tests' server are built from. */
export const SUBJECTS: Record<string, Subject> = {
  projects: { rows: [initProject], routes: projectRoutes },
  setups: {
    rows: [initSetup, initClipPair],
    routes: setupRoutes,
    work: (context) =>
      context.queue.duty(
        'setups',
        1,
        (job) => formProjectSetups(context, job),
        () => Promise.resolve(),
      ),
    queueOpen: queueLooseClips,
  },
  clips: {
    rows: [initClip],
    routes: clipRoutes,
    work: (context) =>
      context.queue.duty(
        'inspect',
        // As many as there are threads, and one more: while what was measured is kept, and the next asked for, no thread waits.
        availableParallelism() + 2,
        (job, leave) => inspectClip(context, job, leave),
        (job, error) => giveUpInspecting(context, job, error),
      ),
    queueOpen: (step) => queueOpenClips(step),
  },
  lineup: { routes: lineupRoutes },
  repairs: { rows: [initRepairStep], routes: repairRoutes },
  joins: { routes: joinRoutes },
  recipes: {
    rows: [initRecipe],
    routes: recipeRoutes,
    work: (context) =>
      context.queue.duty(
        'recipe',
        1,
        (job) => useOnNewcomers(context, job),
        // The clips stay as they came: undecided.
        () => Promise.resolve(),
      ),
  },
  history: { rows: [initBatch], routes: historyRoutes },
  writings: {
    rows: [initWriting],
    routes: writingRoutes,
    work: (context) =>
      context.queue.duty(
        'write',
        1,
        (job) => writeRepair(context, job),
        (job, error) => giveUpWriting(context, job, error),
      ),
    queueOpen: queueOpenWritings,
  },
  edits: { rows: [initEdit], routes: editRoutes },
  handoffs: {
    rows: [initHandoff, initHandoffFile],
    routes: handoffRoutes,
    work: (context) => {
      context.queue.duty(
        'handoffFile',
        // One more: while one waits for its disk, the others have every core.
        availableParallelism() + 1,
        (job, leave) => writeHandoffFile(context, job, leave),
        (job, error) => giveUpHandoffFile(context, job, error),
      );
      context.queue.duty(
        'handoffEnd',
        1,
        (job) => endHandoff(context, job),
        (job, error) => giveUpEnding(context, job, error),
      );
    },
    queueOpen: queueOpenHandoffs,
  },
  mediaFolders: { routes: mediaFolderRoutes },
  keyChanges: { rows: [initKeyChanges], routes: keyChangesRoutes },
};

export const ROWS = Object.values(SUBJECTS).flatMap(({ rows = [] }) => rows);
