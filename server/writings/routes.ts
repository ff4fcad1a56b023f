import { join } from 'node:path';
import { Router } from 'express';
import * as z from 'zod';
import { CONTRACT } from '@pocket-twin/core/contract/contract.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { findReadable, findRow } from '../clips/findRow.ts';
import { answer } from '../http/answer.ts';
import type { HttpContext } from '../http/context.ts';
import { idOf, parse } from '../http/problems.ts';
import { askForWriting } from './askForWriting.ts';
import { WritingRow, listWritings, writingOf } from './writing.ts';

const Index = z.coerce.number().int().nonnegative();

export function writingRoutes(context: HttpContext): Router {
  const routes = Router();

  answer(routes, CONTRACT.listWritings, async ({ params }) => listWritings((await findRow(params.clipId)).id));

  // Writes what is asked for, keeping it; without a word of it what is kept, or a clip without a repair as it is.
  answer(routes, CONTRACT.write, async ({ params, body }, reply) => {
    const { row } = await findReadable(params.clipId);
    const { writing, isNew } = await askForWriting(context, row.id, body);
    if (!isNew) reply.status = 200;
    return writingOf(writing);
  });

  answer(routes, CONTRACT.writtenFile, async ({ params }, { response }) => {
    const writing = await WritingRow.findByPk(idOf(params.writingId, 'file'));
    const file = writing?.receipt?.files[parse(Index, params.index)];
    if (!writing || writing.state !== 'done' || !file)
      throw new Refusal('not-found', 'That file has not been written.');
    response.download(join(context.folders.writing(writing.id), file.name), file.name, { dotfiles: 'allow' });
  });

  return routes;
}
