import { Router } from 'express';
import { CONTRACT } from '@pocket-twin/core/contract/contract.ts';
import { findClip } from '../clips/clip.ts';
import { answer } from '../http/answer.ts';
import type { HttpContext } from '../http/context.ts';
import { findProject } from '../projects/findProject.ts';
import { forecastJoin, joinClips } from './joinClips.ts';

export function joinRoutes(context: HttpContext): Router {
  const routes = Router();

  answer(routes, CONTRACT.forecastJoin, async ({ params, body }) =>
    forecastJoin((await findProject(params.projectId)).id, body),
  );

  answer(routes, CONTRACT.joinClips, async ({ params, body }) => {
    const { id } = await joinClips(context, (await findProject(params.projectId)).id, body);
    return (await findClip(id))!;
  });

  return routes;
}
