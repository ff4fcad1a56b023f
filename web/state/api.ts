import { createApi, fetchBaseQuery, type FetchBaseQueryError } from '@reduxjs/toolkit/query/react';
import { CONTRACT } from '@pocket-twin/core/contract/contract.ts';
import { addressOf, type AnswerOf, type Asked, type Endpoint } from '@pocket-twin/core/contract/endpoint.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import { LineupEntry, type LineupIndex } from '@pocket-twin/core/schema/lineup.ts';
import { Problem } from '@pocket-twin/core/schema/problem.ts';
import { clipNews, type News } from './newsWhileAsking.ts';

/** The lineup's index with its entries by their clips' ids. */
export type LineupById = Omit<LineupIndex, 'entries'> & { entries: Record<string, LineupEntry> };

const fetched = fetchBaseQuery({ baseUrl: '/api' });

/** A page that is not let in any more, as the start token was changed, leads to where it says how to get in. */
const ask: typeof fetched = async (...question) => {
  const answer = await fetched(...question);
  if (answer.error?.status === 401) window.location.reload();
  return answer;
};

type Contract = typeof CONTRACT;
type Answer<Name extends keyof Contract> = AnswerOf<Contract[Name]>;
type Question<Name extends keyof Contract> = Asked<Contract[Name]>;

/** How an endpoint of the contract is asked; what comes back is checked by its schema. */
function asks<Name extends keyof Contract>(name: Name) {
  const endpoint: Endpoint = CONTRACT[name];
  return {
    query: (asked: Question<Name>) => addressOf(CONTRACT[name], asked),
    transformResponse: (answer: unknown) =>
      (typeof endpoint.answer === 'object' ? endpoint.answer.parse(answer) : undefined) as Answer<Name>,
  };
}

/** Everything the server knows but the lineup's rows (rowsSlice.ts), cached; server-sent events keep it fresh (serverEvents.ts). */
export const api = createApi({
  reducerPath: 'api',
  baseQuery: ask,
  tagTypes: ['Project', 'Lineup', 'Clip', 'Writing', 'Recipe', 'KeyChanges', 'Handoff'],
  endpoints: (build) => ({
    listProjects: build.query<Answer<'listProjects'>, Question<'listProjects'>>({
      ...asks('listProjects'),
      providesTags: ['Project'],
    }),
    getProject: build.query<Answer<'getProject'>, Question<'getProject'>>({
      ...asks('getProject'),
      providesTags: ['Project'],
    }),
    createProject: build.mutation<Answer<'createProject'>, Question<'createProject'>>({
      ...asks('createProject'),
      invalidatesTags: ['Project'],
    }),
    deleteProject: build.mutation<Answer<'deleteProject'>, Question<'deleteProject'>>({
      ...asks('deleteProject'),
      invalidatesTags: ['Project'],
    }),
    restoreProject: build.mutation<Answer<'restoreProject'>, Question<'restoreProject'>>({
      ...asks('restoreProject'),
      invalidatesTags: ['Project'],
    }),
    changeProject: build.mutation<Answer<'changeProject'>, Question<'changeProject'>>({
      ...asks('changeProject'),
      invalidatesTags: ['Project'],
    }),

    // Thousands of entries, not checked one by one, replaced as a whole or one by one (serverEvents.ts): comparing them each time would be felt.
    lineup: build.query<LineupById, string>({
      structuralSharing: false,
      providesTags: ['Lineup'],
      queryFn: async (projectId, _api, _options, baseQuery) => {
        const { answered } = clipNews.ask();
        const answer = await baseQuery(addressOf(CONTRACT.lineupIndex, projectId));
        const news = answered();
        return answer.error ? { error: answer.error } : { data: byId(answer.data as LineupIndex, projectId, news) };
      },
    }),
    removeClips: build.mutation<Answer<'removeClips'>, Question<'removeClips'>>({
      ...asks('removeClips'),
      invalidatesTags: ['Project', 'Lineup'],
    }),
    moveClips: build.mutation<Answer<'moveClips'>, Question<'moveClips'>>({
      ...asks('moveClips'),
      invalidatesTags: ['Lineup'],
    }),
    changeSetup: build.mutation<Answer<'changeSetup'>, Question<'changeSetup'>>({
      ...asks('changeSetup'),
      invalidatesTags: ['Lineup'],
    }),
    splitSetup: build.mutation<Answer<'splitSetup'>, Question<'splitSetup'>>({
      ...asks('splitSetup'),
      invalidatesTags: ['Lineup'],
    }),
    mergeSetups: build.mutation<Answer<'mergeSetups'>, Question<'mergeSetups'>>({
      ...asks('mergeSetups'),
      invalidatesTags: ['Lineup'],
    }),
    answerPair: build.mutation<Answer<'answerPair'>, Question<'answerPair'>>({
      ...asks('answerPair'),
      invalidatesTags: ['Lineup'],
    }),
    useSuggestion: build.mutation<Answer<'useSuggestion'>, Question<'useSuggestion'>>({
      ...asks('useSuggestion'),
      invalidatesTags: ['Project', 'Lineup'],
    }),
    forecastJoin: build.mutation<Answer<'forecastJoin'>, Question<'forecastJoin'>>({ ...asks('forecastJoin') }),
    joinClips: build.mutation<Answer<'joinClips'>, Question<'joinClips'>>({
      ...asks('joinClips'),
      invalidatesTags: ['Project', 'Lineup'],
    }),
    getKeyChanges: build.query<Answer<'getKeyChanges'>, Question<'getKeyChanges'>>({
      ...asks('getKeyChanges'),
      providesTags: ['KeyChanges'],
    }),
    setKeyChanges: build.mutation<Answer<'setKeyChanges'>, Question<'setKeyChanges'>>({
      ...asks('setKeyChanges'),
      invalidatesTags: ['KeyChanges'],
    }),
    listRecipes: build.query<Answer<'listRecipes'>, Question<'listRecipes'>>({
      ...asks('listRecipes'),
      providesTags: ['Recipe'],
    }),
    saveRecipe: build.mutation<Answer<'saveRecipe'>, Question<'saveRecipe'>>({
      ...asks('saveRecipe'),
      invalidatesTags: ['Recipe'],
    }),
    renameRecipe: build.mutation<Answer<'renameRecipe'>, Question<'renameRecipe'>>({
      ...asks('renameRecipe'),
      invalidatesTags: ['Recipe'],
    }),
    deleteRecipe: build.mutation<Answer<'deleteRecipe'>, Question<'deleteRecipe'>>({
      ...asks('deleteRecipe'),
      invalidatesTags: ['Recipe'],
    }),
    forecastRecipe: build.mutation<Answer<'forecastRecipe'>, Question<'forecastRecipe'>>({ ...asks('forecastRecipe') }),
    useRecipe: build.mutation<Answer<'useRecipe'>, Question<'useRecipe'>>({
      ...asks('useRecipe'),
      invalidatesTags: ['Project', 'Lineup'],
    }),
    undoLast: build.mutation<Answer<'undoLast'>, Question<'undoLast'>>({
      ...asks('undoLast'),
      invalidatesTags: ['Project', 'Lineup'],
    }),
    redoNext: build.mutation<Answer<'redoNext'>, Question<'redoNext'>>({
      ...asks('redoNext'),
      invalidatesTags: ['Project', 'Lineup'],
    }),

    mediaFolders: build.query<Answer<'mediaFolders'>, Question<'mediaFolders'>>({ ...asks('mediaFolders') }),
    mediaEntries: build.query<Answer<'mediaEntries'>, Question<'mediaEntries'>>({
      ...asks('mediaEntries'),
      keepUnusedDataFor: 0,
    }),
    link: build.mutation<Answer<'link'>, Question<'link'>>({ ...asks('link'), invalidatesTags: ['Project', 'Lineup'] }),
    pointAgain: build.mutation<Answer<'pointAgain'>, Question<'pointAgain'>>({ ...asks('pointAgain') }),
    measureAgain: build.mutation<Answer<'measureAgain'>, Question<'measureAgain'>>({ ...asks('measureAgain') }),

    getClip: build.query<Answer<'getClip'>, Question<'getClip'>>({
      ...asks('getClip'),
      providesTags: (_result, _error, id) => [{ type: 'Clip', id }],
    }),
    renameClip: build.mutation<Answer<'renameClip'>, Question<'renameClip'>>({ ...asks('renameClip') }),
    keepRepair: build.mutation<Answer<'keepRepair'>, Question<'keepRepair'>>({
      ...asks('keepRepair'),
      onQueryStarted: takeClip,
    }),
    undoRepair: build.mutation<Answer<'undoRepair'>, Question<'undoRepair'>>({
      ...asks('undoRepair'),
      onQueryStarted: takeClip,
    }),
    redoRepair: build.mutation<Answer<'redoRepair'>, Question<'redoRepair'>>({
      ...asks('redoRepair'),
      onQueryStarted: takeClip,
    }),
    forecast: build.query<Answer<'forecast'>, Question<'forecast'>>({ ...asks('forecast') }),
    evidence: build.query<Answer<'evidence'>, Question<'evidence'>>({ ...asks('evidence'), keepUnusedDataFor: 600 }),
    propose: build.mutation<Answer<'propose'>, Question<'propose'>>({ ...asks('propose') }),
    measureLineUp: build.mutation<Answer<'measureLineUp'>, Question<'measureLineUp'>>({ ...asks('measureLineUp') }),
    listWritings: build.query<Answer<'listWritings'>, Question<'listWritings'>>({
      ...asks('listWritings'),
      providesTags: (_result, _error, id) => [{ type: 'Writing', id }],
    }),
    readEdit: build.mutation<Answer<'readEdit'>, Question<'readEdit'>>({
      ...asks('readEdit'),
      invalidatesTags: ['Lineup'],
    }),
    forgetEdit: build.mutation<Answer<'forgetEdit'>, Question<'forgetEdit'>>({
      ...asks('forgetEdit'),
      invalidatesTags: ['Lineup'],
    }),
    handoffFolders: build.query<Answer<'handoffFolders'>, Question<'handoffFolders'>>({ ...asks('handoffFolders') }),
    listHandoffs: build.query<Answer<'listHandoffs'>, Question<'listHandoffs'>>({
      ...asks('listHandoffs'),
      providesTags: ['Handoff'],
    }),
    getHandoff: build.query<Answer<'getHandoff'>, Question<'getHandoff'>>({
      ...asks('getHandoff'),
      providesTags: ['Handoff'],
    }),
    forecastHandoff: build.query<Answer<'forecastHandoff'>, Question<'forecastHandoff'>>({
      ...asks('forecastHandoff'),
      // What clips are decided, and what lies in the folder, changes.
      keepUnusedDataFor: 0,
      providesTags: ['Lineup', 'Handoff'],
    }),
    handOff: build.mutation<Answer<'handOff'>, Question<'handOff'>>({
      ...asks('handOff'),
      invalidatesTags: ['Handoff'],
    }),
    handoffFile: build.query<Answer<'handoffFile'>, Question<'handoffFile'>>({
      ...asks('handoffFile'),
      providesTags: ['Handoff'],
    }),
    stepHandoff: build.mutation<Answer<'stepHandoff'>, Question<'stepHandoff'>>({
      ...asks('stepHandoff'),
      invalidatesTags: ['Handoff'],
    }),
    forgetHandoff: build.mutation<Answer<'forgetHandoff'>, Question<'forgetHandoff'>>({
      ...asks('forgetHandoff'),
      invalidatesTags: ['Handoff'],
    }),
    verifyHandoff: build.mutation<Answer<'verifyHandoff'>, Question<'verifyHandoff'>>({ ...asks('verifyHandoff') }),
    write: build.mutation<Answer<'write'>, Question<'write'>>({ ...asks('write'), invalidatesTags: ['Writing'] }),
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
  useReadEditMutation,
  useForgetEditMutation,
  useHandoffFoldersQuery,
  useListHandoffsQuery,
  useGetHandoffQuery,
  useForecastHandoffQuery,
  useHandOffMutation,
  useHandoffFileQuery,
  useStepHandoffMutation,
  useForgetHandoffMutation,
  useVerifyHandoffMutation,
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
  useDeleteRecipeMutation,
  useForecastJoinMutation,
  useForecastQuery,
  useJoinClipsMutation,
  useForecastRecipeMutation,
  useGetKeyChangesQuery,
  useSetKeyChangesMutation,
  useListRecipesQuery,
  useRenameRecipeMutation,
  useSaveRecipeMutation,
  useUseRecipeMutation,
  useMeasureLineUpMutation,
  useProposeMutation,
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
