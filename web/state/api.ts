import { createApi, fetchBaseQuery, type FetchBaseQueryError } from '@reduxjs/toolkit/query/react';
import type { Batch, SuggestionUsed, UseSuggestion } from '@pocket-twin/core/schema/batch.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { Evidence, EvidenceWanted } from '@pocket-twin/core/schema/evidence.ts';
import type { Forecast } from '@pocket-twin/core/schema/forecast.ts';
import { LineupEntry, type LineupIndex, type PairAnswer } from '@pocket-twin/core/schema/lineup.ts';
import type { Linked, LinkWanted, MediaFolder, MediaListing, NewPlace } from '@pocket-twin/core/schema/mediaFolder.ts';
import { Problem } from '@pocket-twin/core/schema/problem.ts';
import type { NewProject, Project, ProjectChange } from '@pocket-twin/core/schema/project.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import type { ClipMove, SetupChange, SetupMerge } from '@pocket-twin/core/schema/setup.ts';
import type { Writing } from '@pocket-twin/core/schema/writing.ts';
import { clipNews, type News } from './newsWhileAsking.ts';

/** The lineup's index with its entries by their clips' ids. */
export type LineupById = Omit<LineupIndex, 'entries'> & { entries: Record<string, LineupEntry> };

type InProject<Body> = { projectId: string } & Body;

const fetched = fetchBaseQuery({ baseUrl: '/api/' });

/** A page that is not let in any more, as the start token was changed, leads to where it says how to get in. */
const ask: typeof fetched = async (...question) => {
  const answer = await fetched(...question);
  if (answer.error?.status === 401) window.location.reload();
  return answer;
};

/** Everything the server knows but the lineup's rows (rowsSlice.ts), cached; server-sent events keep it fresh (serverEvents.ts). */
export const api = createApi({
  reducerPath: 'api',
  baseQuery: ask,
  tagTypes: ['Project', 'Lineup', 'Clip', 'Writing'],
  endpoints: (build) => ({
    listProjects: build.query<Project[], void>({ query: () => 'projects', providesTags: ['Project'] }),
    getProject: build.query<Project, string>({ query: (id) => `projects/${id}`, providesTags: ['Project'] }),
    createProject: build.mutation<Project, NewProject>({
      query: (body) => ({ url: 'projects', method: 'POST', body }),
      invalidatesTags: ['Project'],
    }),
    deleteProject: build.mutation<void, string>({
      query: (id) => ({ url: `projects/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Project'],
    }),
    restoreProject: build.mutation<Project, string>({
      query: (id) => ({ url: `projects/${id}/restore`, method: 'POST' }),
      invalidatesTags: ['Project'],
    }),
    changeProject: build.mutation<Project, InProject<ProjectChange>>({
      query: ({ projectId, ...body }) => ({ url: `projects/${projectId}`, method: 'PATCH', body }),
      invalidatesTags: ['Project'],
    }),

    // Thousands of entries, replaced as a whole or one by one (serverEvents.ts): comparing them each time would be felt.
    lineup: build.query<LineupById, string>({
      structuralSharing: false,
      providesTags: ['Lineup'],
      queryFn: async (projectId, _api, _options, baseQuery) => {
        const { answered } = clipNews.ask();
        const answer = await baseQuery(`projects/${projectId}/lineup/index`);
        const news = answered();
        return answer.error ? { error: answer.error } : { data: byId(answer.data as LineupIndex, projectId, news) };
      },
    }),
    removeClips: build.mutation<Batch, InProject<{ clipIds: string[] }>>({
      query: ({ projectId, clipIds }) => ({
        url: `projects/${projectId}/clips/remove`,
        method: 'POST',
        body: { clipIds },
      }),
      invalidatesTags: ['Project', 'Lineup'],
    }),
    moveClips: build.mutation<{ setupId: string; batch: Batch }, InProject<ClipMove>>({
      query: ({ projectId, ...body }) => ({ url: `projects/${projectId}/clips/move`, method: 'POST', body }),
      invalidatesTags: ['Lineup'],
    }),
    changeSetup: build.mutation<Batch, InProject<{ setupId: string } & SetupChange>>({
      query: ({ projectId, setupId, ...body }) => ({
        url: `projects/${projectId}/setups/${setupId}`,
        method: 'PATCH',
        body,
      }),
      invalidatesTags: ['Lineup'],
    }),
    splitSetup: build.mutation<Batch, InProject<{ setupId: string }>>({
      query: ({ projectId, setupId }) => ({ url: `projects/${projectId}/setups/${setupId}/split`, method: 'POST' }),
      invalidatesTags: ['Lineup'],
    }),
    mergeSetups: build.mutation<Batch, InProject<SetupMerge>>({
      query: ({ projectId, ...body }) => ({ url: `projects/${projectId}/setups/merge`, method: 'POST', body }),
      invalidatesTags: ['Lineup'],
    }),
    answerPair: build.mutation<void, InProject<PairAnswer>>({
      query: ({ projectId, ...body }) => ({ url: `projects/${projectId}/pairs`, method: 'POST', body }),
      invalidatesTags: ['Lineup'],
    }),
    useSuggestion: build.mutation<SuggestionUsed, InProject<UseSuggestion>>({
      query: ({ projectId, ...body }) => ({ url: `projects/${projectId}/suggestions`, method: 'POST', body }),
      invalidatesTags: ['Project', 'Lineup'],
    }),
    undoLast: build.mutation<Batch, string>({
      query: (projectId) => ({ url: `projects/${projectId}/undo`, method: 'POST' }),
      invalidatesTags: ['Project', 'Lineup'],
    }),
    redoNext: build.mutation<Batch, string>({
      query: (projectId) => ({ url: `projects/${projectId}/redo`, method: 'POST' }),
      invalidatesTags: ['Project', 'Lineup'],
    }),

    mediaFolders: build.query<MediaFolder[], void>({ query: () => 'media-folders' }),
    mediaEntries: build.query<MediaListing, { folder: number; path: string }>({
      query: ({ folder, path }) => ({ url: `media-folders/${folder}/entries`, params: { path } }),
      keepUnusedDataFor: 0,
    }),
    link: build.mutation<Linked, InProject<LinkWanted>>({
      query: ({ projectId, ...body }) => ({ url: `projects/${projectId}/links`, method: 'POST', body }),
      invalidatesTags: ['Project', 'Lineup'],
    }),
    pointAgain: build.mutation<Clip, { clipId: string } & NewPlace>({
      query: ({ clipId, ...body }) => ({ url: `clips/${clipId}/source`, method: 'PUT', body }),
    }),
    measureAgain: build.mutation<Clip, string>({
      query: (clipId) => ({ url: `clips/${clipId}/measure`, method: 'POST' }),
    }),

    getClip: build.query<Clip, string>({
      query: (id) => `clips/${id}`,
      providesTags: (_result, _error, id) => [{ type: 'Clip', id }],
    }),
    renameClip: build.mutation<Clip, { clipId: string; name: string }>({
      query: ({ clipId, name }) => ({ url: `clips/${clipId}`, method: 'PATCH', body: { name } }),
    }),
    keepRepair: build.mutation<Clip, { clipId: string; repair: Repair }>({
      query: ({ clipId, repair }) => ({ url: `clips/${clipId}/repair`, method: 'PUT', body: { repair } }),
      onQueryStarted: takeClip,
    }),
    undoRepair: build.mutation<Clip, string>({
      query: (clipId) => ({ url: `clips/${clipId}/repair/undo`, method: 'POST' }),
      onQueryStarted: takeClip,
    }),
    redoRepair: build.mutation<Clip, string>({
      query: (clipId) => ({ url: `clips/${clipId}/repair/redo`, method: 'POST' }),
      onQueryStarted: takeClip,
    }),
    forecast: build.query<Forecast, { clipId: string; repair: Repair }>({
      query: ({ clipId, repair }) => ({ url: `clips/${clipId}/forecast`, method: 'POST', body: { repair } }),
    }),
    evidence: build.query<Evidence, { clipId: string } & EvidenceWanted>({
      query: ({ clipId, ...params }) => ({ url: `clips/${clipId}/evidence`, params }),
      keepUnusedDataFor: 600,
    }),
    listWritings: build.query<Writing[], string>({
      query: (clipId) => `clips/${clipId}/writings`,
      providesTags: (_result, _error, id) => [{ type: 'Writing', id }],
    }),
    write: build.mutation<Writing, { clipId: string; repair: Repair }>({
      query: ({ clipId, repair }) => ({ url: `clips/${clipId}/writings`, method: 'POST', body: { repair } }),
      invalidatesTags: ['Writing'],
    }),
  }),
});

function byId({ entries, ...rest }: LineupIndex, projectId: string, news: News): LineupById {
  const found = Object.fromEntries(entries.map((entry) => [entry.id, entry]));
  for (const [id, row] of news) {
    if (row === null) delete found[id];
    else if (row.projectId === projectId) found[id] = LineupEntry.parse(row);
  }
  return { ...rest, entries: found };
}

/** The clip as it is now comes with the answer: what is shown does not wait for the news of it. */
async function takeClip(
  _asked: unknown,
  { dispatch, queryFulfilled }: { dispatch: (action: never) => unknown; queryFulfilled: Promise<{ data: Clip }> },
): Promise<void> {
  const answer = await queryFulfilled.catch(() => null);
  if (answer) dispatch(api.util.upsertQueryData('getClip', answer.data.id, answer.data) as never);
}

export const {
  usePrefetch,
  useListProjectsQuery,
  useGetProjectQuery,
  useCreateProjectMutation,
  useChangeProjectMutation,
  useLineupQuery,
  useRemoveClipsMutation,
  useMoveClipsMutation,
  useChangeSetupMutation,
  useMergeSetupsMutation,
  useSplitSetupMutation,
  useAnswerPairMutation,
  useUseSuggestionMutation,
  useUndoLastMutation,
  useRedoNextMutation,
  useDeleteProjectMutation,
  useRestoreProjectMutation,
  useMediaFoldersQuery,
  useMediaEntriesQuery,
  useLinkMutation,
  usePointAgainMutation,
  useMeasureAgainMutation,
  useGetClipQuery,
  useRenameClipMutation,
  useKeepRepairMutation,
  useUndoRepairMutation,
  useRedoRepairMutation,
  useForecastQuery,
  useEvidenceQuery,
  useListWritingsQuery,
  useWriteMutation,
} = api;

/** The sentence for people in a failed answer. */
export function sentenceOf(error: unknown): string {
  const failed = error as FetchBaseQueryError;
  if (failed?.status === 'FETCH_ERROR')
    return 'The server does not answer. Start it again with npm start; nothing is lost.';
  const problem = Problem.safeParse(failed?.data);
  return problem.success ? problem.data.title : 'Something went wrong. Reload the page and try again.';
}
