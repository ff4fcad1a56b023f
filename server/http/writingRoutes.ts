import { join } from 'node:path';
import { Router } from 'express';
import * as z from 'zod';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { WritingRow } from '../db/writing.ts';
import type { HttpContext } from './context.ts';
import { idOf, parse } from './problems.ts';

export function writingRoutes({ folders }: HttpContext): Router {
  const routes = Router();

  routes.get('/:writingId/files/:index', async (request, response) => {
    const writing = await WritingRow.findByPk(idOf(request.params.writingId, 'file'));
    const file = writing?.receipt?.files[parse(z.coerce.number().int().nonnegative(), request.params.index)];
    if (!writing || writing.state !== 'done' || !file)
      throw new Refusal('not-found', 'That file has not been written.');
    response.download(join(folders.writing(writing.id), file.name), file.name, { dotfiles: 'allow' });
  });

  return routes;
}
