import { WriteWanted } from '../schema/clip.ts';
import { Writing } from '../schema/writing.ts';
import { endpoint } from './endpoint.ts';

export const writings = {
  listWritings: endpoint({
    method: 'get',
    path: '/clips/:clipId/writings',
    summary: 'What was written of a clip, newest first',
    answer: Writing.array(),
  }),
  write: endpoint({
    method: 'post',
    path: '/clips/:clipId/writings',
    summary:
      'Keeps a repair and writes it; without one what is kept, or the clip as it is. Asked for twice, it is written once (200)',
    body: WriteWanted,
    answer: Writing,
    status: 201,
  }),
  writtenFile: endpoint({
    method: 'get',
    path: '/writings/:writingId/files/:index',
    summary: 'A written file',
    answer: 'application/octet-stream',
  }),
};
