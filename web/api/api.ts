import { createApi, fetchBaseQuery, type FetchBaseQueryError } from '@reduxjs/toolkit/query/react';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { Evidence, EvidenceWanted } from '@pocket-twin/core/schema/evidence.ts';
import type { Forecast } from '@pocket-twin/core/schema/forecast.ts';
import { Problem } from '@pocket-twin/core/schema/problem.ts';
import type { NewProject, Project } from '@pocket-twin/core/schema/project.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import type { Writing } from '@pocket-twin/core/schema/writing.ts';

/** Everything the server knows, cached; server-sent events keep it fresh (serverEvents.ts). */
export const api = createApi({
  reducerPath: 'api',
  baseQuery: fetchBaseQuery({ baseUrl: '/api/' }),
  tagTypes: ['Project', 'Clip', 'Writing'],
  endpoints: (build) => ({
    listProjects: build.query<Project[], void>({ query: () => 'projects', providesTags: ['Project'] }),
    getProject: build.query<Project, string>({ query: (id) => `projects/${id}`, providesTags: ['Project'] }),
    createProject: build.mutation<Project, NewProject>({
      query: (body) => ({ url: 'projects', method: 'POST', body }), invalidatesTags: ['Project'],
    }),
    listClips: build.query<Clip[], string>({ query: (projectId) => `projects/${projectId}/clips`, providesTags: ['Clip'] }),
    removeClip: build.mutation<void, string>({ query: (id) => ({ url: `clips/${id}`, method: 'DELETE' }), invalidatesTags: ['Project'] }),
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
  useListProjectsQuery, useGetProjectQuery, useCreateProjectMutation, useListClipsQuery, useRemoveClipMutation,
  useKeepRepairMutation, useUndoRepairMutation, useRedoRepairMutation, useForecastQuery, useEvidenceQuery, useListWritingsQuery, useWriteMutation,
} = api;

/** The sentence for people in a failed answer. */
export function sentenceOf(error: unknown): string {
  const failed = error as FetchBaseQueryError;
  if (failed?.status === 'FETCH_ERROR') return 'The server does not answer. Start it again with npm start; nothing is lost.';
  const problem = Problem.safeParse(failed?.data);
  return problem.success ? problem.data.title : 'Something went wrong. Reload the page and try again.';
}
