import { statfs } from 'node:fs/promises';
import { Metadata, Server } from '@tus/server';
import type { Request, RequestHandler, Response } from 'express';
import * as z from 'zod';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { UploadMetadata, type UploadStanding } from './arrivals.ts';
import { ProjectRow } from '../projects/project.ts';
import { isDatabaseAway } from '../platform/database/isDatabaseAway.ts';
import type { HttpContext } from '../http/context.ts';

// What the database and the outlines need beside the uploads.
const SPARE_BYTES = 64 * 1024 ** 2;
// With less a write has failed for want of room, whatever was said of it.
const LEAST_FREE_BYTES = 1024 ** 2;
const PATH = '/api/uploads';

/**
 * Resumable uploads (tus 1.0): a finished one becomes a clip. Each is asked for by an id, and whatever was lost on the way (an answer, the server between
 * the last byte and the clip), asking for it again finds it where it stands.
 */
export function uploads({ arrivals, config, folders, log }: HttpContext): RequestHandler {
  const tus = new Server({
    path: PATH,
    relativeLocation: true,
    datastore: arrivals.store,
    maxSize: config.largestBytes,
    namingFunction: (_request, metadata) => z.uuid().safeParse(metadata?.id).data ?? crypto.randomUUID(),
    onUploadCreate: async (_request, upload) => {
      const metadata = UploadMetadata.safeParse(upload.metadata);
      const known = metadata.success && (await ProjectRow.count({ where: { id: metadata.data.projectId } })) > 0;
      if (!known) throw refuse(404, 'The project for this upload does not exist.');
      const { bavail, bsize } = await statfs(folders.uploads);
      if ((upload.size ?? 0) + SPARE_BYTES > bavail * bsize)
        throw refuse(507, 'There is no room on the server’s disk.');
      return {};
    },
    // The store only says that it could not write.
    onResponseError: async (request, error) => {
      if ('status_code' in error && error.status_code < 500) return undefined;
      log.warn({ err: error, url: request.url }, 'An upload had trouble');
      const { bavail, bsize } = await statfs(folders.uploads);
      if (bavail * bsize < LEAST_FREE_BYTES && request.method !== 'HEAD')
        return refuse(507, 'There is no room on the server’s disk.');
      // The system's own words are for the log.
      return 'status_code' in error
        ? undefined
        : refuse(500, 'The server’s disk could not take it just now. Try again: it goes on where it stopped.');
    },
    onUploadFinish: async (_request, upload) => {
      try {
        const clip = await arrivals.finish(upload.id);
        if (!clip) throw new Error('Not every byte of it is here.');
        return { headers: { 'X-Clip-Id': clip.id } };
      } catch (error) {
        if (error instanceof Refusal) throw refuse(404, error.message);
        const filename = upload.metadata?.filename ?? 'The file';
        log.error({ err: error, filename }, 'An upload could not be brought in');
        // It is all here: asked for again it is brought in, and by itself within a minute.
        throw isDatabaseAway(error)
          ? refuse(503, 'The database does not answer just now.')
          : refuse(500, `${filename} could not be kept; the log says why.`);
      }
    },
  });
  return async (request, response) => {
    const id = idAskedFor(request);
    const standing = id === undefined ? null : await arrivals.standingOf(id);
    if (id !== undefined && standing && isAnswered(request, standing)) answer(request, response, id, standing);
    else await tus.handle(request, response);
  };
}

function idAskedFor(request: Request): string | undefined {
  try {
    const wanted =
      request.method === 'POST'
        ? Metadata.parse(request.header('Upload-Metadata') ?? '').id
        : request.path.slice(PATH.length + 1);
    return z.uuid().safeParse(wanted).data;
  } catch {
    // What cannot be read is complained of by the protocol's own words.
    return undefined;
  }
}

/** Whether what is known already is the answer: to making an upload that is there, and to whatever is asked of one that is a clip. */
function isAnswered({ method }: Request, { isClip }: UploadStanding): boolean {
  return method === 'POST' || (isClip && (method === 'HEAD' || method === 'PATCH'));
}

function answer(request: Request, response: Response, id: string, { bytes, arrivedBytes }: UploadStanding): void {
  // Bytes that come along are here already, or will be asked for from where it stands.
  request.resume();
  response
    .status(request.method === 'POST' ? 201 : request.method === 'HEAD' ? 200 : 204)
    .set({
      'Tus-Resumable': '1.0.0',
      'Cache-Control': 'no-store',
      Location: `${PATH}/${id}`,
      'Upload-Length': String(bytes),
      'Upload-Offset': String(arrivedBytes),
    })
    .end();
}

function refuse(status: number, body: string): { status_code: number; body: string } {
  return { status_code: status, body };
}
