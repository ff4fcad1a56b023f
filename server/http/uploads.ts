import { statfs } from 'node:fs/promises';
import { join } from 'node:path';
import { FileStore } from '@tus/file-store';
import { EVENTS, Server } from '@tus/server';
import type { RequestHandler } from 'express';
import * as z from 'zod';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { bringIn } from '../bringIn.ts';
import { ProjectRow } from '../db/project.ts';
import type { HttpContext } from './context.ts';

const UploadMetadata = z.object({
  filename: z.string().min(1),
  projectId: z.uuid(),
  folder: z.string().max(1000).nullish().transform((folder) => folder ?? ''),
  /** When a person chose the file: those chosen together came together, in whatever order they arrive. */
  chosenAt: z.iso.datetime().optional().transform((time) => (time === undefined ? undefined : new Date(Math.min(Date.parse(time), Date.now())))),
});

// What the database and the outlines need beside the uploads.
const SPARE_BYTES = 64 * 1024 ** 2;

/** Resumable uploads (tus 1.0): a finished one becomes a clip. */
export function uploads(context: HttpContext): RequestHandler {
  const { folders, config, log } = context;
  const tus = new Server({
    path: '/api/uploads',
    relativeLocation: true,
    datastore: new FileStore({ directory: folders.uploads }),
    maxSize: config.largestBytes,
    onUploadCreate: async (_request, upload) => {
      const metadata = UploadMetadata.safeParse(upload.metadata);
      const known = metadata.success && await ProjectRow.count({ where: { id: metadata.data.projectId } }) > 0;
      if (!known) throw refuse(404, 'The project for this upload does not exist.');
      const { bavail, bsize } = await statfs(folders.uploads);
      if ((upload.size ?? 0) + SPARE_BYTES > bavail * bsize) throw refuse(507, 'There is no room on the server’s disk.');
      return {};
    },
    onUploadFinish: async (_request, upload) => {
      const { filename, projectId, folder, chosenAt } = UploadMetadata.parse(upload.metadata);
      try {
        const clip = await bringIn(context, { projectId, path: join(folders.uploads, upload.id), name: filename, folder, cameAt: chosenAt }, 'move');
        return { headers: { 'X-Clip-Id': clip.id } };
      } catch (error) {
        log.error({ err: error, filename }, 'An upload could not be brought in');
        throw refuse(500, error instanceof Refusal ? error.message : `${filename} could not be kept; the log says why.`);
      }
    },
  });
  tus.on(EVENTS.POST_FINISH, (_request, _response, upload) => {
    // The bytes have moved to the clip; only the store's note about them is left.
    void new FileStore({ directory: folders.uploads }).remove(upload.id).catch(() => undefined);
  });
  return (request, response) => void tus.handle(request, response);
}

function refuse(status: number, body: string): { status_code: number; body: string } {
  return { status_code: status, body };
}
