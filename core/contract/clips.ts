import * as z from 'zod';
import { Batch } from '../schema/batch.ts';
import { Clip, ClipRename, ClipsRemoved } from '../schema/clip.ts';
import { Evidence, EvidenceWanted } from '../schema/evidence.ts';
import { Linked, LinkWanted, NewPlace } from '../schema/mediaFolder.ts';
import { endpoint } from './endpoint.ts';

/** The most frames one request for samples gets. */
const MOST_FRAMES = 1 << 20;
const Count = z.coerce.number().int().nonnegative();
const OutlineRange = z.object({ from: Count, to: Count });
const FrameRange = z.object({ start: Count, frames: Count.max(MOST_FRAMES) });
const Page = z.object({ offset: Count.default(0), limit: z.coerce.number().int().min(1).max(500).default(100) });

export const clips = {
  listClips: endpoint({
    method: 'get',
    path: '/projects/:projectId/clips',
    summary: 'A page of a project’s clips with all that is known of them',
    query: Page,
    answer: Clip.array(),
  }),
  link: endpoint({
    method: 'post',
    path: '/projects/:projectId/links',
    summary: 'Brings files and folders in where they lie',
    body: LinkWanted,
    answer: Linked,
    status: 201,
  }),
  removeClips: endpoint({
    method: 'post',
    path: '/projects/:projectId/clips/remove',
    summary: 'Takes clips out of the project; they can be put back for a day',
    body: ClipsRemoved,
    answer: Batch,
  }),
  restoreClips: endpoint({
    method: 'post',
    path: '/projects/:projectId/clips/restore',
    summary: 'Puts removed clips back',
    body: ClipsRemoved,
    status: 204,
  }),
  getClip: endpoint({
    method: 'get',
    path: '/clips/:clipId',
    summary: 'One clip with all that is known of it',
    answer: Clip,
  }),
  renameClip: endpoint({
    method: 'patch',
    path: '/clips/:clipId',
    summary: 'Renames a clip for display; the file keeps its name',
    body: ClipRename,
    answer: Clip,
  }),
  deleteClip: endpoint({
    method: 'delete',
    path: '/clips/:clipId',
    summary: 'Takes a clip out of its project',
    status: 204,
  }),
  pointAgain: endpoint({
    method: 'put',
    path: '/clips/:clipId/source',
    summary: 'Points a linked clip to where its file lies now',
    body: NewPlace,
    answer: Clip,
  }),
  measureAgain: endpoint({
    method: 'post',
    path: '/clips/:clipId/measure',
    summary: 'Measures a clip again',
    answer: Clip,
    status: 202,
  }),
  still: endpoint({
    method: 'get',
    path: '/clips/:clipId/still',
    summary: 'A small still of its picture',
    answer: 'image/jpeg',
  }),
  outline: endpoint({
    method: 'get',
    path: '/clips/:clipId/outline/:level',
    summary: 'Buckets of one zoom level: for each lane minimum, maximum and RMS as 32-bit floats, little-endian',
    query: OutlineRange,
    answer: 'application/octet-stream',
  }),
  samples: endpoint({
    method: 'get',
    path: '/clips/:clipId/samples',
    summary: 'Samples, channel after channel, as 32-bit floats, little-endian',
    query: FrameRange,
    answer: 'application/octet-stream',
  }),
  evidence: endpoint({
    method: 'get',
    path: '/clips/:clipId/evidence',
    summary: 'What there is to see about two channels, over the clip or a stretch of it',
    query: EvidenceWanted,
    answer: Evidence,
  }),
};
