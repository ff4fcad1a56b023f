import { rm } from 'node:fs/promises';
import { Router } from 'express';
import { z } from 'zod';
import { leaveAsItIs } from '@pocket-twin/core/repair/plans.ts';
import { laneCount, outlineShape } from '@pocket-twin/core/outline/outline.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import { KeepRepair } from '@pocket-twin/core/schema/clip.ts';
import { EvidenceWanted } from '@pocket-twin/core/schema/evidence.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { readOutline } from '@pocket-twin/media/outlineFiles.ts';
import { readPlanar } from '@pocket-twin/media/readPlanar.ts';
import { inThread } from '@pocket-twin/media/threads/inThread.ts';
import { announce } from '../db/changes.ts';
import { ClipRow, findClip } from '../db/clip.ts';
import { keepRepair, redoRepair, undoRepair } from '../db/repairHistory.ts';
import { WritingRow, writingOf } from '../db/writing.ts';
import type { HttpContext } from './context.ts';
import { parse } from './problems.ts';

/** The most frames one request for samples gets. */
const MOST_FRAMES = 1 << 20;
const Count = z.coerce.number().int().nonnegative();
const OutlineRange = z.object({ from: Count, to: Count });
const FrameRange = z.object({ start: Count, frames: Count.max(MOST_FRAMES) });

export function clipRoutes({ sequelize, folders, queue }: HttpContext): Router {
  const routes = Router();
  const rowOf = async (id: unknown): Promise<ClipRow> => {
    const row = await ClipRow.findByPk(parse(z.uuid(), id));
    if (!row) throw new Refusal('not-found', 'That clip is no longer in the project.');
    return row;
  };
  const measured = async (id: unknown) => {
    const row = await rowOf(id);
    if (!row.pcm || !row.inspection) throw new Refusal('conflict', `${row.name} has not been measured yet.`);
    return { row, pcm: row.pcm, inspection: row.inspection };
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
    await ClipRow.destroy({ where: { id } });
    await rm(folders.clip(id), { recursive: true, force: true });
    await announce(sequelize, { kind: 'clip-removed', id, projectId });
    response.status(204).end();
  });

  // Buckets of one level: for each lane minimum, maximum and RMS as 32-bit floats, little-endian.
  routes.get('/:clipId/outline/:level', async (request, response) => {
    const { row, pcm } = await measured(request.params.clipId);
    const level = parse(Count, request.params.level);
    const { from, to } = parse(OutlineRange, request.query);
    const buckets = outlineShape(pcm.frames, pcm.channels).bucketsPerLevel[level];
    if (buckets === undefined) throw new Refusal('not-found', 'The outline has no such level.');
    const bytes = await readOutline(folders.outline(row.id), level, laneCount(pcm.channels), from, Math.min(to, buckets));
    response.type('application/octet-stream').send(bytes);
  });

  // Samples, channel after channel, as 32-bit floats, little-endian.
  routes.get('/:clipId/samples', async (request, response) => {
    const { pcm } = await measured(request.params.clipId);
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
    const { row, pcm } = await measured(request.params.clipId);
    const { repair } = parse(KeepRepair, request.body);
    if (repair.inputChannels !== pcm.channels) throw new Refusal('conflict', `${row.name} has ${pcm.channels} channels; the repair is for ${repair.inputChannels}.`);
    response.json(await inThread('forecast', { source: pcm, repair }));
  });

  // What there is to see about two channels, over the clip or a stretch of it.
  routes.get('/:clipId/evidence', async (request, response) => {
    const { row, pcm } = await measured(request.params.clipId);
    const wanted = parse(EvidenceWanted, request.query);
    if (Math.max(wanted.left, wanted.right) > pcm.channels) throw new Refusal('conflict', `${row.name} has ${pcm.channels} channels.`);
    response.json(await inThread('evidence', { source: pcm, wanted }));
  });

  routes.get('/:clipId/writings', async (request, response) => {
    const { id } = await rowOf(request.params.clipId);
    const rows = await WritingRow.findAll({ where: { clipId: id }, order: [['createdAt', 'DESC']] });
    response.json(rows.map(writingOf));
  });

  // Writes the repair that is kept; a clip without one is written as it is.
  routes.post('/:clipId/writings', async (request, response) => {
    const { row, pcm } = await measured(request.params.clipId);
    const clip = (await findClip(row.id))!;
    const writing = await WritingRow.create({
      clipId: row.id, projectId: row.projectId, repair: clip.repair ?? leaveAsItIs(pcm.channels), state: 'waiting',
    });
    await queue.send('write', { writingId: writing.id });
    await announce(sequelize, { kind: 'writing', id: writing.id });
    response.status(201).json(writingOf(writing));
  });

  return routes;
}
