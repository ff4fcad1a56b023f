import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Router } from 'express';
import { CONTRACT } from '@pocket-twin/core/contract/contract.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { RECEIPT_PAGE } from '@pocket-twin/media/handoff/completeFolder.ts';
import { inThread } from '@pocket-twin/media/threads/inThread.ts';
import { answer } from '../http/answer.ts';
import type { HttpContext } from '../http/context.ts';
import { idOf } from '../http/problems.ts';
import { findProject } from '../projects/findProject.ts';
import { beginHandoff, findHandoff, forgetHandoff, stepHandoff } from './actions.ts';
import { streamArchive } from './archive.ts';
import { forecastHandoff } from './forecastHandoff.ts';
import { handoffDetail, handoffsBy } from './handoff.ts';
import { handoffFileOf, HandoffFileRow } from './handoffFile.ts';

// A page that runs nothing and loads nothing, whatever names of files stand in it.
const RECEIPT_POLICY = "default-src 'none'; style-src 'unsafe-inline'; img-src data:; sandbox";

export function handoffRoutes(context: HttpContext): Router {
  const { sequelize, handoffFolders } = context;
  const routes = Router();
  const one = async (id: string) => (await handoffsBy(sequelize, { id: [id] }))[0];

  answer(routes, CONTRACT.handoffFolders, () => handoffFolders.list());

  answer(routes, CONTRACT.listHandoffs, async ({ params }) =>
    handoffsBy(sequelize, { projectId: (await findProject(params.projectId)).id }),
  );

  answer(routes, CONTRACT.forecastHandoff, async ({ params, body }) => {
    const { id } = await findProject(params.projectId);
    return (await forecastHandoff(context, id, body)).forecast;
  });

  answer(routes, CONTRACT.handOff, async ({ params, body }) => {
    const { id } = await findProject(params.projectId);
    return one(await beginHandoff(context, id, body));
  });

  answer(routes, CONTRACT.getHandoff, async ({ params }) => {
    const { id } = await findHandoff(params.handoffId);
    return (await handoffDetail(sequelize, id))!;
  });

  answer(routes, CONTRACT.handoffFile, async ({ params }) => {
    const row = await HandoffFileRow.scope('withResult').findByPk(idOf(params.fileId, 'file'));
    if (!row?.result) throw new Refusal('not-found', 'That file has not been written.');
    return { file: handoffFileOf(row), receipt: row.result.receipt };
  });

  answer(routes, CONTRACT.stepHandoff, async ({ params, body }) => {
    await stepHandoff(context, params.handoffId, body);
    return one(params.handoffId);
  });

  answer(routes, CONTRACT.forgetHandoff, ({ params }) => forgetHandoff(context, params.handoffId));

  answer(routes, CONTRACT.handoffArchive, async ({ params }, { response }) =>
    streamArchive(await findHandoff(params.handoffId), response),
  );

  answer(routes, CONTRACT.handoffReceipt, async ({ params }, { response }) => {
    const { folder } = await findHandoff(params.handoffId);
    const page = await readFile(join(folder!, RECEIPT_PAGE), 'utf8').catch(() => {
      throw new Refusal('not-found', 'The receipt is not there: the handoff has not ended, or its folder has gone.');
    });
    response.set('Content-Security-Policy', RECEIPT_POLICY).type('text/html').send(page);
  });

  answer(routes, CONTRACT.verifyHandoff, async ({ params }) => {
    const { folder } = await findHandoff(params.handoffId);
    return inThread('verify', { folder: folder! });
  });

  return routes;
}
