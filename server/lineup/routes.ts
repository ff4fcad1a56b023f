import { Router } from 'express';
import { CONTRACT } from '@pocket-twin/core/contract/contract.ts';
import { answer } from '../http/answer.ts';
import type { HttpContext } from '../http/context.ts';
import { idOf } from '../http/problems.ts';
import { inBackground } from '../platform/inBackground.ts';
import { noProject } from '../projects/findProject.ts';
import { readLineup, readLineupIndex, readRows } from './lineup.ts';

export function lineupRoutes({ sequelize, log, linkedSources }: HttpContext): Router {
  const routes = Router();
  /** Whoever looks at a project should know which of its linked files have gone. */
  const lookAfter = (id: string): void => {
    inBackground(log, 'Looking after linked files', linkedSources.look(id));
  };

  answer(routes, CONTRACT.lineup, async ({ params, query }) => {
    const id = idOf(params.projectId, 'project');
    const lineup = await readLineup(sequelize, id, query);
    if (!lineup) throw noProject();
    lookAfter(id);
    return lineup;
  });

  answer(routes, CONTRACT.lineupIndex, async ({ params }) => {
    const id = idOf(params.projectId, 'project');
    const index = await readLineupIndex(sequelize, id);
    if (!index) throw noProject();
    lookAfter(id);
    return index;
  });

  answer(routes, CONTRACT.rows, ({ body }) => readRows(sequelize, body.ids));

  return routes;
}
