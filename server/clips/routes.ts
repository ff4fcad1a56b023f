import { Router } from 'express';
import * as z from 'zod';
import { CONTRACT } from '@pocket-twin/core/contract/contract.ts';
import { laneCount, outlineShape } from '@pocket-twin/core/outline/outline.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { readOutline } from '@pocket-twin/media/read/outlineFiles.ts';
import { readPlanar } from '@pocket-twin/media/read/readPlanar.ts';
import { inThread } from '@pocket-twin/media/threads/inThread.ts';
import { batchOf } from '../history/batch.ts';
import { answer } from '../http/answer.ts';
import type { HttpContext } from '../http/context.ts';
import { parse } from '../http/problems.ts';
import { findProject } from '../projects/findProject.ts';
import { removeClips, renameClip, restoreClips } from './actions.ts';
import { findClip, listClips } from './clip.ts';
import { findMeasured, findReadable, findRow } from './findRow.ts';
import { linkAgain, linkIn, measureAgain } from './links.ts';

const Level = z.coerce.number().int().nonnegative();

export function clipRoutes(context: HttpContext): Router {
  const { folders, mediaFolders } = context;
  const routes = Router();
  const one = async (id: string): Promise<Clip> => (await findClip(id))!;

  answer(routes, CONTRACT.listClips, async ({ params, query }) =>
    listClips((await findProject(params.projectId)).id, query),
  );

  answer(routes, CONTRACT.link, async ({ params, body: { folder, paths } }) => {
    const { id } = await findProject(params.projectId);
    const { files, skipped } = await mediaFolders.find(folder, paths);
    return { clips: await linkIn(context, id, files), skipped };
  });

  answer(routes, CONTRACT.removeClips, async ({ params, body }) => {
    const { id } = await findProject(params.projectId);
    return batchOf(await removeClips(context, id, body.clipIds));
  });

  answer(routes, CONTRACT.restoreClips, async ({ params, body }) =>
    restoreClips(context, (await findProject(params.projectId)).id, body.clipIds),
  );

  answer(routes, CONTRACT.getClip, async ({ params }) => one((await findRow(params.clipId)).id));

  answer(routes, CONTRACT.deleteClip, async ({ params }) => {
    const { id, projectId } = await findRow(params.clipId);
    await removeClips(context, projectId, [id]);
  });

  answer(routes, CONTRACT.renameClip, async ({ params, body }) => {
    const row = await findRow(params.clipId);
    await renameClip(context, row, body.name);
    return one(row.id);
  });

  answer(routes, CONTRACT.pointAgain, async ({ params, body: { folder, path } }) => {
    const row = await findRow(params.clipId);
    if (!row.linked) throw new Refusal('conflict', `${row.fileName} was copied in and is where it should be.`);
    const {
      files: [file],
    } = await mediaFolders.find(folder, [path]);
    if (!file) throw new Refusal('not-found', `There is no recording at ${path}.`);
    await linkAgain(context, row, file);
    return one(row.id);
  });

  // After a linked file has changed, or when measuring failed for a reason that is gone.
  answer(routes, CONTRACT.measureAgain, async ({ params }) => {
    const row = await findRow(params.clipId);
    if (row.linked) await linkAgain(context, row, { path: row.sourcePath, name: row.fileName, folder: row.folder });
    else await measureAgain(context, row);
    return one(row.id);
  });

  answer(routes, CONTRACT.still, async ({ params }, { response }) => {
    const row = await findRow(params.clipId);
    if (!row.hasStill) throw new Refusal('not-found', `${row.fileName} has no picture.`);
    response.type('image/jpeg').sendFile(folders.still(row.id), { dotfiles: 'allow' });
  });

  answer(routes, CONTRACT.outline, async ({ params, query: { from, to } }, { response }) => {
    const { row, pcm } = await findMeasured(params.clipId);
    const level = parse(Level, params.level);
    const buckets = outlineShape(pcm.frames, pcm.channels).bucketsPerLevel[level];
    if (buckets === undefined) throw new Refusal('not-found', 'The outline has no such level.');
    const lanes = laneCount(pcm.channels);
    const bytes = await readOutline(folders.outline(row.id), level, lanes, from, Math.min(to, buckets));
    response.type('application/octet-stream').send(bytes);
  });

  answer(routes, CONTRACT.samples, async ({ params, query: { start, frames } }, { response }) => {
    const { pcm } = await findReadable(params.clipId);
    response.type('application/octet-stream').send(await readPlanar(pcm, start, frames));
  });

  answer(routes, CONTRACT.evidence, async ({ params, query: wanted }) => {
    const { row, pcm } = await findReadable(params.clipId);
    if (Math.max(wanted.left, wanted.right) > pcm.channels)
      throw new Refusal('conflict', `${row.fileName} has ${pcm.channels} channels.`);
    return inThread('evidence', { source: pcm, wanted });
  });

  return routes;
}
