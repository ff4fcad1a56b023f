import { Router } from 'express';
import { z } from 'zod';
import { NewProject } from '@pocket-twin/core/schema/project.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { listClips } from '../db/clip.ts';
import { listProjects, ProjectRow } from '../db/project.ts';
import type { HttpContext } from './context.ts';
import { parse } from './problems.ts';

export function projectRoutes({ sequelize }: HttpContext): Router {
  const routes = Router();

  routes.get('/', async (_request, response) => {
    response.json(await listProjects(sequelize));
  });

  routes.post('/', async (request, response) => {
    const { id } = await ProjectRow.create(parse(NewProject, request.body));
    response.status(201).json((await listProjects(sequelize, id))[0]);
  });

  routes.get('/:projectId', async (request, response) => {
    const [project] = await listProjects(sequelize, parse(z.uuid(), request.params.projectId));
    if (!project) throw new Refusal('not-found', 'That project does not exist.');
    response.json(project);
  });

  routes.get('/:projectId/clips', async (request, response) => {
    response.json(await listClips(parse(z.uuid(), request.params.projectId)));
  });

  return routes;
}
