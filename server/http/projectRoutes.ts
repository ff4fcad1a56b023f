import { Router } from 'express';
import { UseSuggestion } from '@pocket-twin/core/schema/batch.ts';
import { ClipsRemoved } from '@pocket-twin/core/schema/clip.ts';
import { LineupQuery, PairAnswer, RowsWanted } from '@pocket-twin/core/schema/lineup.ts';
import { LinkWanted } from '@pocket-twin/core/schema/mediaFolder.ts';
import { NewProject, ProjectChange } from '@pocket-twin/core/schema/project.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { ClipMove, SetupChange, SetupMerge } from '@pocket-twin/core/schema/setup.ts';
import { linkIn } from '../links.ts';
import { queueOpenClips } from '../jobs/openRows.ts';
import { inBackground } from '../inBackground.ts';
import { batchOf } from '../db/batch.ts';
import { announce } from '../db/changes.ts';
import { listClips } from '../db/clip.ts';
import { ClipPairRow } from '../db/clipPair.ts';
import { readLineup, readLineupIndex, readRows } from '../db/lineup.ts';
import { listProjects, ProjectRow } from '../db/project.ts';
import { redoNext, undoLast } from '../db/projectHistory.ts';
import { changeSetup, mergeSetups, moveClips, splitSetup } from '../db/setupChanges.ts';
import { useSuggestion } from '../db/suggestions.ts';
import { removeClips, removeProject, restoreClips, restoreProject } from '../db/removal.ts';
import type { HttpContext } from './context.ts';
import { Page } from './contract.ts';
import { idOf, parse } from './problems.ts';

const MOST_TOLD_SINGLY = 50;
const missing = (): Refusal => new Refusal('not-found', 'That project does not exist.');

export function projectRoutes(context: HttpContext): Router {
  const { sequelize, log, queue, linkedSources, mediaFolders } = context;
  const routes = Router();
  const rowOf = async (id: unknown): Promise<ProjectRow> => {
    const row = await ProjectRow.findByPk(idOf(id, 'project'));
    if (!row) throw missing();
    return row;
  };

  // What waited when it was taken away goes on.
  const measureRestored = (projectId: string): Promise<number> =>
    sequelize.transaction((transaction) => queueOpenClips(sequelize, queue, transaction, projectId));

  routes.get('/', async (_request, response) => {
    response.json(await listProjects(sequelize));
  });

  routes.post('/', async (request, response) => {
    const { id } = await ProjectRow.create(parse(NewProject, request.body));
    await announce(sequelize, { kind: 'projects' });
    response.status(201).json((await listProjects(sequelize, id))[0]);
  });

  routes.get('/:projectId', async (request, response) => {
    const { id } = await rowOf(request.params.projectId);
    response.json((await listProjects(sequelize, id))[0]);
  });

  routes.patch('/:projectId', async (request, response) => {
    const row = await rowOf(request.params.projectId);
    const { archived, ...rest } = parse(ProjectChange, request.body);
    await row.update({ ...rest, ...(archived !== undefined && { archivedAt: archived ? new Date() : null }) });
    await announce(sequelize, { kind: 'lineup', projectId: row.id });
    await announce(sequelize, { kind: 'projects' });
    response.json((await listProjects(sequelize, row.id))[0]);
  });

  // It can be put back for a day.
  routes.delete('/:projectId', async (request, response) => {
    await removeProject(sequelize, await rowOf(request.params.projectId));
    response.status(204).end();
  });

  routes.post('/:projectId/restore', async (request, response) => {
    const id = idOf(request.params.projectId, 'project');
    await restoreProject(sequelize, id);
    await measureRestored(id);
    response.json((await listProjects(sequelize, id))[0]);
  });

  routes.get('/:projectId/clips', async (request, response) => {
    const { id } = await rowOf(request.params.projectId);
    response.json(await listClips(id, parse(Page, request.query)));
  });

  routes.get('/:projectId/lineup', async (request, response) => {
    const id = idOf(request.params.projectId, 'project');
    const lineup = await readLineup(sequelize, id, parse(LineupQuery, request.query));
    if (!lineup) throw missing();
    response.json(lineup);
    lookAfter(id);
  });

  routes.get('/:projectId/lineup/index', async (request, response) => {
    const id = idOf(request.params.projectId, 'project');
    const index = await readLineupIndex(sequelize, id);
    if (!index) throw missing();
    response.json(index);
    lookAfter(id);
  });

  const lookAfter = (id: string): void => {
    inBackground(log, 'Looking after linked files', linkedSources.look(id));
  };

  routes.post('/:projectId/rows', async (request, response) => {
    response.json(await readRows(sequelize, parse(RowsWanted, request.body).ids));
  });

  routes.post('/:projectId/links', async (request, response) => {
    const { id } = await rowOf(request.params.projectId);
    const { folder, paths } = parse(LinkWanted, request.body);
    const { files, skipped } = await mediaFolders.find(folder, paths);
    response.status(201).json({ clips: await linkIn(context, id, files), skipped });
  });

  routes.post('/:projectId/clips/remove', async (request, response) => {
    const { id } = await rowOf(request.params.projectId);
    response.json(batchOf(await removeClips(sequelize, id, parse(ClipsRemoved, request.body).clipIds)));
  });

  routes.post('/:projectId/clips/restore', async (request, response) => {
    const { id } = await rowOf(request.params.projectId);
    await restoreClips(sequelize, id, parse(ClipsRemoved, request.body).clipIds);
    await measureRestored(id);
    response.status(204).end();
  });

  // What a person says of setups counts at once; the queue then holds the newcomers against it.
  const setupsChanged = async (projectId: string): Promise<void> => {
    await announce(sequelize, { kind: 'lineup', projectId });
    await queue.sendSoon('setups', { projectId }, projectId);
  };

  routes.post('/:projectId/clips/move', async (request, response) => {
    const { id } = await rowOf(request.params.projectId);
    const { setupId, batch } = await moveClips(sequelize, id, parse(ClipMove, request.body));
    await setupsChanged(id);
    response.json({ setupId, batch: batchOf(batch) });
  });

  routes.patch('/:projectId/setups/:setupId', async (request, response) => {
    const { id } = await rowOf(request.params.projectId);
    const batch = await changeSetup(
      sequelize,
      id,
      idOf(request.params.setupId, 'setup'),
      parse(SetupChange, request.body),
    );
    await setupsChanged(id);
    response.json(batchOf(batch));
  });

  routes.post('/:projectId/setups/:setupId/split', async (request, response) => {
    const { id } = await rowOf(request.params.projectId);
    const batch = await splitSetup(sequelize, id, idOf(request.params.setupId, 'setup'));
    await setupsChanged(id);
    response.json(batchOf(batch));
  });

  routes.post('/:projectId/setups/merge', async (request, response) => {
    const { id } = await rowOf(request.params.projectId);
    const batch = await mergeSetups(sequelize, id, parse(SetupMerge, request.body));
    await setupsChanged(id);
    response.json(batchOf(batch));
  });

  routes.post('/:projectId/pairs', async (request, response) => {
    const { id } = await rowOf(request.params.projectId);
    const { accept, ...pair } = parse(PairAnswer, request.body);
    const [found] = await ClipPairRow.update(
      { state: accept ? 'accepted' : 'declined' },
      { where: { ...pair, projectId: id } },
    );
    if (found === 0) throw new Refusal('not-found', 'Those two clips were not proposed as a pair.');
    await announce(sequelize, { kind: 'lineup', projectId: id });
    response.status(204).end();
  });

  // Many rows are asked for again by whoever has them in sight; a few come by themselves.
  const tellClips = async (projectId: string, clipIds: string[]): Promise<void> => {
    if (clipIds.length <= MOST_TOLD_SINGLY) for (const id of clipIds) await announce(sequelize, { kind: 'clip', id });
    await announce(sequelize, { kind: 'lineup', projectId });
  };

  routes.post('/:projectId/suggestions', async (request, response) => {
    const { id } = await rowOf(request.params.projectId);
    const { used, clipIds } = await useSuggestion(sequelize, id, parse(UseSuggestion, request.body));
    await tellClips(id, clipIds);
    response.json(used);
  });

  for (const [way, turn] of [
    ['undo', undoLast],
    ['redo', redoNext],
  ] as const) {
    routes.post(`/:projectId/${way}`, async (request, response) => {
      const { id } = await rowOf(request.params.projectId);
      const { batch, clipIds } = await turn(sequelize, id);
      await tellClips(id, clipIds);
      if (batch.kind === 'removal') await measureRestored(id);
      if (batch.kind === 'setups') await queue.sendSoon('setups', { projectId: id }, id);
      response.json(batchOf(batch));
    });
  }

  return routes;
}
