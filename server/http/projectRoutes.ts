import { Router } from 'express';
import * as z from 'zod';
import { UseSuggestion } from '@pocket-twin/core/schema/batch.ts';
import { ClipsRemoved } from '@pocket-twin/core/schema/clip.ts';
import { LineupQuery, PairAnswer, RowsWanted } from '@pocket-twin/core/schema/lineup.ts';
import { LinkWanted } from '@pocket-twin/core/schema/mediaFolder.ts';
import { NewProject, ProjectChange } from '@pocket-twin/core/schema/project.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { ClipMove, SetupChange, SetupMerge } from '@pocket-twin/core/schema/setup.ts';
import { linkIn } from '../bringIn.ts';
import { announce } from '../db/changes.ts';
import { listClips } from '../db/clip.ts';
import { ClipPairRow } from '../db/clipPair.ts';
import { readLineup, readRows } from '../db/lineup.ts';
import { listProjects, ProjectRow } from '../db/project.ts';
import { changeSetup, mergeSetups, moveClips } from '../db/setupChanges.ts';
import { undoBatch, useSuggestion } from '../db/suggestions.ts';
import { removeClips, restoreClips } from '../db/removal.ts';
import type { HttpContext } from './context.ts';
import { Page } from './contract.ts';
import { parse } from './problems.ts';

const missing = (): Refusal => new Refusal('not-found', 'That project does not exist.');

export function projectRoutes(context: HttpContext): Router {
  const { sequelize, log, queue, linkedSources, mediaFolders } = context;
  const routes = Router();
  const rowOf = async (id: unknown): Promise<ProjectRow> => {
    const row = await ProjectRow.findByPk(parse(z.uuid(), id));
    if (!row) throw missing();
    return row;
  };

  routes.get('/', async (_request, response) => {
    response.json(await listProjects(sequelize));
  });

  routes.post('/', async (request, response) => {
    const { id } = await ProjectRow.create(parse(NewProject, request.body));
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
    response.json((await listProjects(sequelize, row.id))[0]);
  });

  routes.get('/:projectId/clips', async (request, response) => {
    const { id } = await rowOf(request.params.projectId);
    response.json(await listClips(id, parse(Page, request.query)));
  });

  routes.get('/:projectId/lineup', async (request, response) => {
    const id = parse(z.uuid(), request.params.projectId);
    const lineup = await readLineup(sequelize, id, parse(LineupQuery, request.query));
    if (!lineup) throw missing();
    response.json(lineup);
    void linkedSources.look(id).catch((error: unknown) => log.warn(error, 'Linked files could not be looked after'));
  });

  routes.post('/:projectId/rows', async (request, response) => {
    response.json(await readRows(sequelize, parse(RowsWanted, request.body).ids));
  });

  routes.post('/:projectId/links', async (request, response) => {
    const { id } = await rowOf(request.params.projectId);
    const { folder, paths } = parse(LinkWanted, request.body);
    response.status(201).json({ clips: await linkIn(context, id, await mediaFolders.find(folder, paths)) });
  });

  routes.post('/:projectId/clips/remove', async (request, response) => {
    const { id } = await rowOf(request.params.projectId);
    await removeClips(sequelize, id, parse(ClipsRemoved, request.body).clipIds);
    response.status(204).end();
  });

  routes.post('/:projectId/clips/restore', async (request, response) => {
    const { id } = await rowOf(request.params.projectId);
    await restoreClips(sequelize, id, parse(ClipsRemoved, request.body).clipIds);
    response.status(204).end();
  });

  // What a person says of setups counts at once; the queue then holds the newcomers against it.
  const setupsChanged = async (projectId: string): Promise<void> => {
    await announce(sequelize, { kind: 'lineup', projectId });
    await queue.sendSoon('setups', { projectId }, projectId);
  };

  routes.post('/:projectId/clips/move', async (request, response) => {
    const { id } = await rowOf(request.params.projectId);
    const setupId = await moveClips(sequelize, id, parse(ClipMove, request.body));
    await setupsChanged(id);
    response.json({ setupId });
  });

  routes.patch('/:projectId/setups/:setupId', async (request, response) => {
    const { id } = await rowOf(request.params.projectId);
    await changeSetup(id, parse(z.uuid(), request.params.setupId), parse(SetupChange, request.body));
    await setupsChanged(id);
    response.status(204).end();
  });

  routes.post('/:projectId/setups/merge', async (request, response) => {
    const { id } = await rowOf(request.params.projectId);
    await mergeSetups(sequelize, id, parse(SetupMerge, request.body));
    await setupsChanged(id);
    response.status(204).end();
  });

  routes.post('/:projectId/pairs', async (request, response) => {
    const { id } = await rowOf(request.params.projectId);
    const { accept, ...pair } = parse(PairAnswer, request.body);
    const [found] = await ClipPairRow.update({ state: accept ? 'accepted' : 'declined' }, { where: { ...pair, projectId: id } });
    if (found === 0) throw new Refusal('not-found', 'Those two clips were not proposed as a pair.');
    await announce(sequelize, { kind: 'lineup', projectId: id });
    response.status(204).end();
  });

  const tellClips = async (projectId: string, clipIds: string[]): Promise<void> => {
    for (const id of clipIds) await announce(sequelize, { kind: 'clip', id });
    await announce(sequelize, { kind: 'lineup', projectId });
  };

  routes.post('/:projectId/suggestions', async (request, response) => {
    const { id } = await rowOf(request.params.projectId);
    const { used, clipIds } = await useSuggestion(sequelize, id, parse(UseSuggestion, request.body));
    await tellClips(id, clipIds);
    response.json(used);
  });

  routes.post('/:projectId/batches/:batchId/undo', async (request, response) => {
    const { id } = await rowOf(request.params.projectId);
    const { batch, clipIds } = await undoBatch(sequelize, id, parse(z.uuid(), request.params.batchId));
    await tellClips(id, clipIds);
    response.json(batch);
  });

  return routes;
}
