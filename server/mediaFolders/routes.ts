import { Router } from 'express';
import * as z from 'zod';
import { CONTRACT } from '@pocket-twin/core/contract/contract.ts';
import { answer } from '../http/answer.ts';
import type { HttpContext } from '../http/context.ts';
import { parse } from '../http/problems.ts';

const Index = z.coerce.number().int().nonnegative();

export function mediaFolderRoutes({ mediaFolders }: HttpContext): Router {
  const routes = Router();

  answer(routes, CONTRACT.mediaFolders, () => mediaFolders.list());

  answer(routes, CONTRACT.mediaEntries, ({ params, query: { path, offset, limit } }) =>
    mediaFolders.browse(parse(Index, params.index), path, offset, limit),
  );

  return routes;
}
