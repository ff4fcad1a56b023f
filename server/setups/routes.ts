import { Router } from 'express';
import { CONTRACT } from '@pocket-twin/core/contract/contract.ts';
import { batchOf } from '../history/batch.ts';
import { answer } from '../http/answer.ts';
import type { HttpContext } from '../http/context.ts';
import { idOf } from '../http/problems.ts';
import { findProject } from '../projects/findProject.ts';
import { answerPair, changeSetup, mergeSetups, moveClips, splitSetup } from './actions.ts';

export function setupRoutes(context: HttpContext): Router {
  const routes = Router();
  const projectOf = async ({ projectId }: { projectId: string }): Promise<string> => (await findProject(projectId)).id;

  answer(routes, CONTRACT.moveClips, async ({ params, body }) => {
    const { setupId, batch } = await moveClips(context, await projectOf(params), body);
    return { setupId, batch: batchOf(batch) };
  });

  answer(routes, CONTRACT.changeSetup, async ({ params, body }) =>
    batchOf(await changeSetup(context, await projectOf(params), idOf(params.setupId, 'setup'), body)),
  );

  answer(routes, CONTRACT.splitSetup, async ({ params }) =>
    batchOf(await splitSetup(context, await projectOf(params), idOf(params.setupId, 'setup'))),
  );

  answer(routes, CONTRACT.mergeSetups, async ({ params, body }) =>
    batchOf(await mergeSetups(context, await projectOf(params), body)),
  );

  answer(routes, CONTRACT.answerPair, async ({ params, body }) => answerPair(context, await projectOf(params), body));

  return routes;
}
