import { createApi, fetchBaseQuery, type FetchBaseQueryError } from '@reduxjs/toolkit/query/react';
import type { Batch, SuggestionUsed, UseSuggestion } from '@pocket-twin/core/schema/batch.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { Evidence, EvidenceWanted } from '@pocket-twin/core/schema/evidence.ts';
import type { Forecast } from '@pocket-twin/core/schema/forecast.ts';
import type { Lineup, LineupQuery, PairAnswer } from '@pocket-twin/core/schema/lineup.ts';
import type { Linked, LinkWanted, MediaFolder, MediaListing, NewPlace } from '@pocket-twin/core/schema/mediaFolder.ts';
import { Problem } from '@pocket-twin/core/schema/problem.ts';
import type { NewProject, Project, ProjectChange } from '@pocket-twin/core/schema/project.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import type { ClipMove, SetupChange, SetupMerge } from '@pocket-twin/core/schema/setup.ts';
import type { Writing } from '@pocket-twin/core/schema/writing.ts';

type InProject<Body> = { projectId: string } & Body;

/** Everything the server knows but the lineup's rows (rowsSlice.ts), cached; server-sent events keep it fresh (serverEvents.ts). */
export const api = createApi({
  reducerPath: 'api',
  baseQuery: fetchBaseQuery({ baseUrl: '/api/' }),
  tagTypes: ['Project', 'Lineup', 'Clip', 'Writing'],
  endpoints: (build) => ({
    listProjects: build.query<Project[], void>({ query: () => 'projects', providesTags: ['Project'] }),
    getProject: build.query<Project, string>({ query: (id) => `projects/${id}`, providesTags: ['Project'] }),
    createProject: build.mutation<Project, NewProject>({
      query: (body) => ({ url: 'projects', method: 'POST', body }), invalidatesTags: ['Project'],
    }),
    changeProject: build.mutation<Project, InProject<ProjectChange>>({
      query: ({ projectId, ...body }) => ({ url: `projects/${projectId}`, method: 'PATCH', body }), invalidatesTags: ['Project'],
    }),

    lineup: build.query<Lineup, InProject<LineupQuery>>({
      query: ({ projectId, ...params }) => ({ url: `projects/${projectId}/lineup`, params }), providesTags: ['Lineup'],
    }),
    removeClips: build.mutation<void, InProject<{ clipIds: string[] }>>({
      query: ({ projectId, clipIds }) => ({ url: `projects/${projectId}/clips/remove`, method: 'POST', body: { clipIds } }), invalidatesTags: ['Project', 'Lineup'],
    }),
    restoreClips: build.mutation<void, InProject<{ clipIds: string[] }>>({
      query: ({ projectId, clipIds }) => ({ url: `projects/${projectId}/clips/restore`, method: 'POST', body: { clipIds } }), invalidatesTags: ['Project', 'Lineup'],
    }),
    moveClips: build.mutation<{ setupId: string }, InProject<ClipMove>>({
      query: ({ projectId, ...body }) => ({ url: `projects/${projectId}/clips/move`, method: 'POST', body }), invalidatesTags: ['Lineup'],
    }),
    changeSetup: build.mutation<void, InProject<{ setupId: string } & SetupChange>>({
      query: ({ projectId, setupId, ...body }) => ({ url: `projects/${projectId}/setups/${setupId}`, method: 'PATCH', body }), invalidatesTags: ['Lineup'],
    }),
    mergeSetups: build.mutation<void, InProject<SetupMerge>>({
      query: ({ projectId, ...body }) => ({ url: `projects/${projectId}/setups/merge`, method: 'POST', body }), invalidatesTags: ['Lineup'],
    }),
    answerPair: build.mutation<void, InProject<PairAnswer>>({
      query: ({ projectId, ...body }) => ({ url: `projects/${projectId}/pairs`, method: 'POST', body }), invalidatesTags: ['Lineup'],
    }),
    useSuggestion: build.mutation<SuggestionUsed, InProject<UseSuggestion>>({
      query: ({ projectId, ...body }) => ({ url: `projects/${projectId}/suggestions`, method: 'POST', body }), invalidatesTags: ['Project'],
    }),
    undoBatch: build.mutation<Batch, InProject<{ batchId: string }>>({
      query: ({ projectId, batchId }) => ({ url: `projects/${projectId}/batches/${batchId}/undo`, method: 'POST' }), invalidatesTags: ['Project'],
    }),

    mediaFolders: build.query<MediaFolder[], void>({ query: () => 'media-folders' }),
    mediaEntries: build.query<MediaListing, { folder: number; path: string }>({
      query: ({ folder, path }) => ({ url: `media-folders/${folder}/entries`, params: { path } }), keepUnusedDataFor: 0,
    }),
    link: build.mutation<Linked, InProject<LinkWanted>>({
      query: ({ projectId, ...body }) => ({ url: `projects/${projectId}/links`, method: 'POST', body }), invalidatesTags: ['Project', 'Lineup'],
    }),
    pointAgain: build.mutation<Clip, { clipId: string } & NewPlace>({ query: ({ clipId, ...body }) => ({ url: `clips/${clipId}/source`, method: 'PUT', body }) }),
    measureAgain: build.mutation<Clip, string>({ query: (clipId) => ({ url: `clips/${clipId}/measure`, method: 'POST' }) }),

    getClip: build.query<Clip, string>({ query: (id) => `clips/${id}`, providesTags: (_result, _error, id) => [{ type: 'Clip', id }] }),
    renameClip: build.mutation<Clip, { clipId: string; name: string }>({ query: ({ clipId, name }) => ({ url: `clips/${clipId}`, method: 'PATCH', body: { name } }) }),
    keepRepair: build.mutation<Clip, { clipId: string; repair: Repair }>({
      query: ({ clipId, repair }) => ({ url: `clips/${clipId}/repair`, method: 'PUT', body: { repair } }),
    }),
    undoRepair: build.mutation<Clip, string>({ query: (clipId) => ({ url: `clips/${clipId}/repair/undo`, method: 'POST' }) }),
    redoRepair: build.mutation<Clip, string>({ query: (clipId) => ({ url: `clips/${clipId}/repair/redo`, method: 'POST' }) }),
    forecast: build.query<Forecast, { clipId: string; repair: Repair }>({
      query: ({ clipId, repair }) => ({ url: `clips/${clipId}/forecast`, method: 'POST', body: { repair } }),
    }),
    evidence: build.query<Evidence, { clipId: string } & EvidenceWanted>({
      query: ({ clipId, ...params }) => ({ url: `clips/${clipId}/evidence`, params }), keepUnusedDataFor: 600,
    }),
    listWritings: build.query<Writing[], string>({ query: (clipId) => `clips/${clipId}/writings`, providesTags: ['Writing'] }),
    write: build.mutation<Writing, string>({ query: (clipId) => ({ url: `clips/${clipId}/writings`, method: 'POST' }) }),
  }),
});

export const {
  useListProjectsQuery, useGetProjectQuery, useCreateProjectMutation, useChangeProjectMutation, useLineupQuery, useRemoveClipsMutation,
  useRestoreClipsMutation, useMoveClipsMutation, useChangeSetupMutation, useMergeSetupsMutation, useAnswerPairMutation, useUseSuggestionMutation, useUndoBatchMutation,
  useMediaFoldersQuery, useMediaEntriesQuery, useLinkMutation, usePointAgainMutation, useMeasureAgainMutation, useGetClipQuery, useRenameClipMutation,
  useKeepRepairMutation, useUndoRepairMutation, useRedoRepairMutation, useForecastQuery, useEvidenceQuery, useListWritingsQuery, useWriteMutation,
} = api;

/** The sentence for people in a failed answer. */
export function sentenceOf(error: unknown): string {
  const failed = error as FetchBaseQueryError;
  if (failed?.status === 'FETCH_ERROR') return 'The server does not answer. Start it again with npm start; nothing is lost.';
  const problem = Problem.safeParse(failed?.data);
  return problem.success ? problem.data.title : 'Something went wrong. Reload the page and try again.';
}
