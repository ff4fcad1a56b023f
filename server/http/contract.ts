import * as z from 'zod';
import { Batch, SuggestionUsed, UseSuggestion } from '@pocket-twin/core/schema/batch.ts';
import { Clip, ClipRename, ClipsRemoved, KeepRepair, WriteWanted } from '@pocket-twin/core/schema/clip.ts';
import { Evidence, EvidenceWanted } from '@pocket-twin/core/schema/evidence.ts';
import { Forecast } from '@pocket-twin/core/schema/forecast.ts';
import {
  Lineup,
  LineupIndex,
  LineupQuery,
  LineupRow,
  PairAnswer,
  RowsWanted,
} from '@pocket-twin/core/schema/lineup.ts';
import {
  Linked,
  LinkWanted,
  ListingWanted,
  MediaFolder,
  MediaListing,
  NewPlace,
} from '@pocket-twin/core/schema/mediaFolder.ts';
import { NewProject, Project, ProjectChange } from '@pocket-twin/core/schema/project.ts';
import { ClipMove, SetupChange, SetupMerge } from '@pocket-twin/core/schema/setup.ts';
import { Writing } from '@pocket-twin/core/schema/writing.ts';

/** The most frames one request for samples gets. */
const MOST_FRAMES = 1 << 20;
const Count = z.coerce.number().int().nonnegative();
export const OutlineRange = z.object({ from: Count, to: Count });
export const FrameRange = z.object({ start: Count, frames: Count.max(MOST_FRAMES) });
export const Page = z.object({ offset: Count.default(0), limit: z.coerce.number().int().min(1).max(500).default(100) });
const SetupMoved = z.object({ setupId: z.uuid(), batch: Batch });

/** One thing the server answers: what is asked, what comes back. */
export interface Endpoint {
  method: 'get' | 'post' | 'put' | 'patch' | 'delete';
  /** As Express has it, under /api. */
  path: string;
  summary: string;
  query?: z.ZodType;
  body?: z.ZodType;
  /** JSON by this schema, another kind of body by its media type, or nothing. */
  answer?: z.ZodType | string;
  status?: number;
}

/** Everything under /api but uploads, which speak tus 1.0. A test holds the routes to it. */
export const CONTRACT: Endpoint[] = [
  { method: 'get', path: '/health', summary: 'Whether the server answers', answer: z.object({ ok: z.literal(true) }) },
  { method: 'get', path: '/events', summary: 'What changes, as server-sent events', answer: 'text/event-stream' },
  { method: 'get', path: '/openapi.json', summary: 'This description (OpenAPI 3.1)', answer: 'application/json' },
  { method: 'get', path: '/docs', summary: 'This description, to read', answer: 'text/html' },

  { method: 'get', path: '/projects', summary: 'All projects with their counts', answer: Project.array() },
  { method: 'post', path: '/projects', summary: 'Makes a project', body: NewProject, answer: Project, status: 201 },
  { method: 'get', path: '/projects/:projectId', summary: 'One project', answer: Project },
  {
    method: 'patch',
    path: '/projects/:projectId',
    summary: 'Renames, archives, or sets the intake rule or frame rate',
    body: ProjectChange,
    answer: Project,
  },
  {
    method: 'delete',
    path: '/projects/:projectId',
    summary: 'Deletes a project; it can be put back for a day',
    status: 204,
  },
  { method: 'post', path: '/projects/:projectId/restore', summary: 'Puts a deleted project back', answer: Project },
  {
    method: 'get',
    path: '/projects/:projectId/clips',
    summary: 'A page of a project’s clips with all that is known of them',
    query: Page,
    answer: Clip.array(),
  },
  {
    method: 'get',
    path: '/projects/:projectId/lineup',
    summary: 'The order of a project’s clips, sorted, searched, filtered and grouped by setup',
    query: LineupQuery,
    answer: Lineup,
  },
  {
    method: 'get',
    path: '/projects/:projectId/lineup/index',
    summary: 'All that the lineup is made from, so that sorting, searching and filtering need no server',
    answer: LineupIndex,
  },
  {
    method: 'post',
    path: '/projects/:projectId/rows',
    summary: 'Rows of the lineup by their ids',
    body: RowsWanted,
    answer: LineupRow.array(),
  },
  {
    method: 'post',
    path: '/projects/:projectId/links',
    summary: 'Brings files and folders in where they lie',
    body: LinkWanted,
    answer: Linked,
    status: 201,
  },
  {
    method: 'post',
    path: '/projects/:projectId/clips/remove',
    summary: 'Takes clips out of the project; they can be put back for a day',
    body: ClipsRemoved,
    answer: Batch,
  },
  {
    method: 'post',
    path: '/projects/:projectId/clips/restore',
    summary: 'Puts removed clips back',
    body: ClipsRemoved,
    status: 204,
  },
  {
    method: 'post',
    path: '/projects/:projectId/clips/move',
    summary: 'Moves clips to another setup, or splits them off into a new one',
    body: ClipMove,
    answer: SetupMoved,
  },
  {
    method: 'patch',
    path: '/projects/:projectId/setups/:setupId',
    summary: 'Renames a setup, or sets its roles or intake rule',
    body: SetupChange,
    answer: Batch,
  },
  {
    method: 'post',
    path: '/projects/:projectId/setups/:setupId/split',
    summary: 'Makes a setup for each thing that the clips of a mixed setup carry',
    answer: Batch,
  },
  {
    method: 'post',
    path: '/projects/:projectId/setups/merge',
    summary: 'Puts all of one setup into another',
    body: SetupMerge,
    answer: Batch,
  },
  {
    method: 'post',
    path: '/projects/:projectId/pairs',
    summary: 'Says whether two files are the left and the right of one recording',
    body: PairAnswer,
    status: 204,
  },
  {
    method: 'post',
    path: '/projects/:projectId/suggestions',
    summary: 'Keeps a suggestion on the chosen clips whose suggestion it is, or on each its own',
    body: UseSuggestion,
    answer: SuggestionUsed,
  },
  {
    method: 'post',
    path: '/projects/:projectId/undo',
    summary: 'Takes back what was done last to clips or setups in one go',
    answer: Batch,
  },
  { method: 'post', path: '/projects/:projectId/redo', summary: 'Does again what was undone last', answer: Batch },

  { method: 'get', path: '/clips/:clipId', summary: 'One clip with all that is known of it', answer: Clip },
  {
    method: 'patch',
    path: '/clips/:clipId',
    summary: 'Renames a clip for display; the file keeps its name',
    body: ClipRename,
    answer: Clip,
  },
  { method: 'delete', path: '/clips/:clipId', summary: 'Takes a clip out of its project', status: 204 },
  {
    method: 'put',
    path: '/clips/:clipId/source',
    summary: 'Points a linked clip to where its file lies now',
    body: NewPlace,
    answer: Clip,
  },
  { method: 'post', path: '/clips/:clipId/measure', summary: 'Measures a clip again', answer: Clip, status: 202 },
  { method: 'get', path: '/clips/:clipId/still', summary: 'A small still of its picture', answer: 'image/jpeg' },
  {
    method: 'get',
    path: '/clips/:clipId/outline/:level',
    summary: 'Buckets of one zoom level: for each lane minimum, maximum and RMS as 32-bit floats, little-endian',
    query: OutlineRange,
    answer: 'application/octet-stream',
  },
  {
    method: 'get',
    path: '/clips/:clipId/samples',
    summary: 'Samples, channel after channel, as 32-bit floats, little-endian',
    query: FrameRange,
    answer: 'application/octet-stream',
  },
  { method: 'put', path: '/clips/:clipId/repair', summary: 'Keeps a repair', body: KeepRepair, answer: Clip },
  { method: 'post', path: '/clips/:clipId/repair/undo', summary: 'Goes back to the repair before', answer: Clip },
  { method: 'post', path: '/clips/:clipId/repair/redo', summary: 'Goes forward again', answer: Clip },
  {
    method: 'post',
    path: '/clips/:clipId/forecast',
    summary: 'The levels of what a repair would write',
    body: KeepRepair,
    answer: Forecast,
  },
  {
    method: 'get',
    path: '/clips/:clipId/evidence',
    summary: 'What there is to see about two channels, over the clip or a stretch of it',
    query: EvidenceWanted,
    answer: Evidence,
  },
  {
    method: 'get',
    path: '/clips/:clipId/writings',
    summary: 'What was written of a clip, newest first',
    answer: Writing.array(),
  },
  {
    method: 'post',
    path: '/clips/:clipId/writings',
    summary:
      'Keeps a repair and writes it; without one what is kept, or the clip as it is. Asked for twice, it is written once (200)',
    body: WriteWanted,
    answer: Writing,
    status: 201,
  },
  {
    method: 'get',
    path: '/writings/:writingId/files/:index',
    summary: 'A written file',
    answer: 'application/octet-stream',
  },

  {
    method: 'get',
    path: '/media-folders',
    summary: 'The folders whose files can be brought in where they lie',
    answer: MediaFolder.array(),
  },
  {
    method: 'get',
    path: '/media-folders/:index/entries',
    summary: 'A page of what lies in one of their folders',
    query: ListingWanted,
    answer: MediaListing,
  },
];
