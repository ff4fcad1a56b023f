import { Router } from 'express';
import * as z from 'zod';
import { laneCount, outlineShape } from '@pocket-twin/core/outline/outline.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import { ClipRename, KeepRepair, WriteWanted } from '@pocket-twin/core/schema/clip.ts';
import { EvidenceWanted } from '@pocket-twin/core/schema/evidence.ts';
import { NewPlace } from '@pocket-twin/core/schema/mediaFolder.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { readOutline } from '@pocket-twin/media/read/outlineFiles.ts';
import { readPlanar } from '@pocket-twin/media/read/readPlanar.ts';
import { inThread } from '@pocket-twin/media/threads/inThread.ts';
import { askForWriting } from '../askForWriting.ts';
import { linkAgain, measureAgain } from '../links.ts';
import { announce } from '../db/changes.ts';
import { ClipRow, findClip } from '../db/clip.ts';
import { ProjectRow } from '../db/project.ts';
import { keepRepair, redoRepair, undoRepair } from '../db/repairHistory.ts';
import { WritingRow, writingOf } from '../db/writing.ts';
import { ensureSourceHere } from '../linkedSources.ts';
import { removeClips } from '../db/removal.ts';
import type { HttpContext } from './context.ts';
import { FrameRange, OutlineRange } from './contract.ts';
import { idOf, parse } from './problems.ts';

const Count = z.coerce.number().int().nonnegative();

export function clipRoutes(context: HttpContext): Router {
  const { sequelize, folders, mediaFolders } = context;
  const routes = Router();
  const rowOf = async (id: unknown): Promise<ClipRow> => {
    const row = await ClipRow.findByPk(idOf(id, 'clip'));
    if (!row || !(await ProjectRow.findByPk(row.projectId, { attributes: ['id'] })))
      throw new Refusal('not-found', 'That clip is no longer in the project.');
    return row;
  };
  const measured = async (id: unknown) => {
    const row = await rowOf(id);
    if (!row.pcm || !row.inspection) throw new Refusal('conflict', `${row.name} has not been measured yet.`);
    return { row, pcm: row.pcm, inspection: row.inspection };
  };
  /** For what reads the clip's own samples. */
  const readable = async (id: unknown) => {
    const found = await measured(id);
    await ensureSourceHere(found.row);
    return found;
  };
  const changed = async (id: string): Promise<Clip> => {
    await announce(sequelize, { kind: 'clip', id });
    return (await findClip(id))!;
  };

  routes.get('/:clipId', async (request, response) => {
    const { id } = await rowOf(request.params.clipId);
    response.json(await findClip(id));
  });

  routes.delete('/:clipId', async (request, response) => {
    const { id, projectId } = await rowOf(request.params.clipId);
    await removeClips(sequelize, projectId, [id]);
    response.status(204).end();
  });

  routes.patch('/:clipId', async (request, response) => {
    const row = await rowOf(request.params.clipId);
    const { name } = parse(ClipRename, request.body);
    await row.update({ displayName: name === row.name ? null : name });
    response.json(await changed(row.id));
  });

  routes.put('/:clipId/source', async (request, response) => {
    const row = await rowOf(request.params.clipId);
    if (!row.linked) throw new Refusal('conflict', `${row.name} was copied in and is where it should be.`);
    const { folder, path } = parse(NewPlace, request.body);
    const {
      files: [file],
    } = await mediaFolders.find(folder, [path]);
    if (!file) throw new Refusal('not-found', `There is no recording at ${path}.`);
    await linkAgain(context, row, file);
    response.json(await findClip(row.id));
  });

  // After a linked file has changed, or when measuring failed for a reason that is gone.
  routes.post('/:clipId/measure', async (request, response) => {
    const row = await rowOf(request.params.clipId);
    if (row.linked) await linkAgain(context, row, { path: row.sourcePath, name: row.name, folder: row.folder });
    else await measureAgain(context, row);
    response.status(202).json(await findClip(row.id));
  });

  routes.get('/:clipId/still', async (request, response) => {
    const row = await rowOf(request.params.clipId);
    if (!row.hasStill) throw new Refusal('not-found', `${row.name} has no picture.`);
    response.type('image/jpeg').sendFile(folders.still(row.id), { dotfiles: 'allow' });
  });

  // Buckets of one level: for each lane minimum, maximum and RMS as 32-bit floats, little-endian.
  routes.get('/:clipId/outline/:level', async (request, response) => {
    const { row, pcm } = await measured(request.params.clipId);
    const level = parse(Count, request.params.level);
    const { from, to } = parse(OutlineRange, request.query);
    const buckets = outlineShape(pcm.frames, pcm.channels).bucketsPerLevel[level];
    if (buckets === undefined) throw new Refusal('not-found', 'The outline has no such level.');
    const bytes = await readOutline(
      folders.outline(row.id),
      level,
      laneCount(pcm.channels),
      from,
      Math.min(to, buckets),
    );
    response.type('application/octet-stream').send(bytes);
  });

  // Samples, channel after channel, as 32-bit floats, little-endian.
  routes.get('/:clipId/samples', async (request, response) => {
    const { pcm } = await readable(request.params.clipId);
    const { start, frames } = parse(FrameRange, request.query);
    response.type('application/octet-stream').send(await readPlanar(pcm, start, frames));
  });

  routes.put('/:clipId/repair', async (request, response) => {
    const { row } = await measured(request.params.clipId);
    await keepRepair(sequelize, row.id, parse(KeepRepair, request.body).repair);
    response.json(await changed(row.id));
  });

  routes.post('/:clipId/repair/undo', async (request, response) => {
    const { id } = await rowOf(request.params.clipId);
    await undoRepair(sequelize, id);
    response.json(await changed(id));
  });

  routes.post('/:clipId/repair/redo', async (request, response) => {
    const { id } = await rowOf(request.params.clipId);
    await redoRepair(sequelize, id);
    response.json(await changed(id));
  });

  routes.post('/:clipId/forecast', async (request, response) => {
    const { row, pcm } = await readable(request.params.clipId);
    const { repair } = parse(KeepRepair, request.body);
    if (repair.inputChannels !== pcm.channels)
      throw new Refusal(
        'conflict',
        `${row.name} has ${pcm.channels} channels; the repair is for ${repair.inputChannels}.`,
      );
    response.json(await inThread('forecast', { source: pcm, repair }));
  });

  // What there is to see about two channels, over the clip or a stretch of it.
  routes.get('/:clipId/evidence', async (request, response) => {
    const { row, pcm } = await readable(request.params.clipId);
    const wanted = parse(EvidenceWanted, request.query);
    if (Math.max(wanted.left, wanted.right) > pcm.channels)
      throw new Refusal('conflict', `${row.name} has ${pcm.channels} channels.`);
    response.json(await inThread('evidence', { source: pcm, wanted }));
  });

  routes.get('/:clipId/writings', async (request, response) => {
    const { id } = await rowOf(request.params.clipId);
    const rows = await WritingRow.findAll({ where: { clipId: id }, order: [['createdAt', 'DESC']] });
    response.json(rows.map(writingOf));
  });

  // Writes what is asked for, keeping it; without a word of it what is kept, or a clip without a repair as it is.
  routes.post('/:clipId/writings', async (request, response) => {
    const { row } = await readable(request.params.clipId);
    const { repair } = parse(WriteWanted, request.body ?? {});
    const { writing, isNew } = await askForWriting(context, row.id, repair);
    response.status(isNew ? 201 : 200).json(writingOf(writing));
  });

  return routes;
}
