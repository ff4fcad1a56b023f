import { Router } from 'express';
import { CONTRACT } from '@pocket-twin/core/contract/contract.ts';
import { answer } from '../http/answer.ts';
import type { HttpContext } from '../http/context.ts';
import { findProject } from '../projects/findProject.ts';
import { batchOf } from './batch.ts';
import { redoNext, undoLast } from './actions.ts';

export function historyRoutes(context: HttpContext): Router {
  const routes = Router();

  answer(routes, CONTRACT.undoLast, async ({ params }) =>
    batchOf(await undoLast(context, (await findProject(params.projectId)).id)),
  );

  answer(routes, CONTRACT.redoNext, async ({ params }) =>
    batchOf(await redoNext(context, (await findProject(params.projectId)).id)),
  );

  return routes;
}
