import { Router } from 'express';
import * as z from 'zod';
import { ListingWanted } from '@pocket-twin/core/schema/mediaFolder.ts';
import type { HttpContext } from './context.ts';
import { parse } from './problems.ts';

export function mediaFolderRoutes({ mediaFolders }: HttpContext): Router {
  const routes = Router();

  routes.get('/', (_request, response) => {
    response.json(mediaFolders.list());
  });

  routes.get('/:index/entries', async (request, response) => {
    const { path, offset, limit } = parse(ListingWanted, request.query);
    response.json(
      await mediaFolders.browse(
        parse(z.coerce.number().int().nonnegative(), request.params.index),
        path,
        offset,
        limit,
      ),
    );
  });

  return routes;
}
