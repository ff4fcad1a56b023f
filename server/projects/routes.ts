import { Router } from 'express';
import { CONTRACT } from '@pocket-twin/core/contract/contract.ts';
import { answer } from '../http/answer.ts';
import type { HttpContext } from '../http/context.ts';
import { idOf } from '../http/problems.ts';
import { changeProject, createProject, removeProject, restoreProject } from './actions.ts';
import { findProject } from './findProject.ts';
import { listProjects } from './project.ts';

export function projectRoutes(context: HttpContext): Router {
  const routes = Router();
  const one = async (id: string) => (await listProjects(context.sequelize, id))[0];

  answer(routes, CONTRACT.listProjects, () => listProjects(context.sequelize));

  answer(routes, CONTRACT.createProject, async ({ body }) => one((await createProject(context, body)).id));

  answer(routes, CONTRACT.getProject, async ({ params }) => one((await findProject(params.projectId)).id));

  answer(routes, CONTRACT.changeProject, async ({ params, body }) => {
    const project = await findProject(params.projectId);
    await changeProject(context, project, body);
    return one(project.id);
  });

  answer(routes, CONTRACT.deleteProject, async ({ params }) =>
    removeProject(context, await findProject(params.projectId)),
  );

  answer(routes, CONTRACT.restoreProject, async ({ params }) => {
    const id = idOf(params.projectId, 'project');
    await restoreProject(context, id);
    return one(id);
  });

  return routes;
}
