import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { SuggestionUsed } from '@pocket-twin/core/schema/batch.ts';
import type { LineupColumn, LineupFilter, LineupQuery } from '@pocket-twin/core/schema/lineup.ts';
import { rememberedColumns, type ShownColumns } from './shownColumns.ts';

/** What was just done, or did not work. */
export type LineupNews =
  | { kind: 'suggestion'; projectId: string; used: SuggestionUsed; suggestion: string | null }
  | { kind: 'done'; projectId: string; sentence: string; wayBack: 'undo' | 'redo' | null }
  | { kind: 'said'; projectId: string; tone: 'fix' | 'look' | 'fine'; sentence: string };

/** Where a person was in a project's list. */
interface Place {
  /** The line that had the focus last. */
  line?: string;
  /** How far it was scrolled, in pixels. */
  top: number;
  /** The list was left, and goes on from here when it comes up again. */
  comesBack: boolean;
}

interface LineupState {
  query: Omit<LineupQuery, 'grouped'>;
  grouped: boolean;
  /** Setups whose clips are folded away. */
  folded: string[];
  /** Clips whose channels are shown. */
  unfolded: string[];
  /** Chosen clips of each project; filtering does not touch them. */
  chosen: Record<string, string[]>;
  places: Record<string, Place>;
  /** Questions that a person put off, by what they ask. */
  putOff: string[];
  columns: ShownColumns;
  news: LineupNews | null;
  /** What is being heard without leaving the list; channel null is the clip as it is. */
  hearing: { clipId: string; channel: number | null } | null;
  /** The linked clip whose file is being looked for. */
  pointing: { clipId: string; name: string } | null;
  /** The clips that the bench goes through; null for all of the project. */
  queue: string[] | null;
}

const initialState = (): LineupState => ({
  query: { sort: 'came', descending: false, search: '' },
  grouped: true,
  folded: [],
  unfolded: [],
  chosen: {},
  places: {},
  putOff: [],
  columns: rememberedColumns(),
  news: null,
  hearing: null,
  pointing: null,
  queue: null,
});

export const lineupSlice = createSlice({
  name: 'lineup',
  initialState,
  reducers: {
    sorted: (state, { payload }: PayloadAction<{ column: LineupColumn; descending: boolean }>) => {
      Object.assign(state.query, { sort: payload.column, descending: payload.descending });
    },
    searched: (state, { payload }: PayloadAction<string>) => {
      state.query.search = payload;
    },
    filtered: (state, { payload }: PayloadAction<LineupFilter | undefined>) => {
      state.query.only = payload;
    },
    grouping: (state, { payload }: PayloadAction<boolean>) => {
      state.grouped = payload;
    },
    folding: (state, { payload: { setupId, isFolded } }: PayloadAction<{ setupId: string; isFolded: boolean }>) => {
      state.folded = isFolded ? [...state.folded, setupId] : state.folded.filter((id) => id !== setupId);
    },
    unfolding: (state, { payload: { clipId, isUnfolded } }: PayloadAction<{ clipId: string; isUnfolded: boolean }>) => {
      state.unfolded = isUnfolded ? [...state.unfolded, clipId] : state.unfolded.filter((id) => id !== clipId);
    },
    lineMadeCurrent: (state, { payload: { projectId, line } }: PayloadAction<{ projectId: string; line: string }>) => {
      state.places[projectId] = { ...(state.places[projectId] ?? { top: 0, comesBack: false }), line };
    },
    placeKept: (state, { payload: { projectId, top } }: PayloadAction<{ projectId: string; top: number }>) => {
      state.places[projectId] = { ...state.places[projectId], top, comesBack: true };
    },
    questionPutOff: (state, { payload }: PayloadAction<string>) => {
      state.putOff.push(payload);
    },
    chosen: (state, { payload: { projectId, ids } }: PayloadAction<{ projectId: string; ids: string[] }>) => {
      state.chosen[projectId] = ids;
    },
    columnsShown: (state, { payload }: PayloadAction<ShownColumns>) => {
      state.columns = payload;
    },
    newsCame: (state, { payload }: PayloadAction<LineupNews>) => {
      state.news = payload;
    },
    newsGone: (state) => {
      state.news = null;
    },
    hearingBegan: (state, { payload }: PayloadAction<NonNullable<LineupState['hearing']>>) => {
      state.hearing = payload;
    },
    hearingEnded: (state) => {
      state.hearing = null;
    },
    pointingBegan: (state, { payload }: PayloadAction<LineupState['pointing']>) => {
      state.pointing = payload;
    },
    queueSet: (state, { payload }: PayloadAction<string[] | null>) => {
      state.queue = payload;
    },
  },
});

export const {
  sorted,
  searched,
  filtered,
  grouping,
  folding,
  unfolding,
  lineMadeCurrent,
  placeKept,
  questionPutOff,
  chosen,
  columnsShown,
  newsCame,
  newsGone,
  hearingBegan,
  hearingEnded,
  pointingBegan,
  queueSet,
} = lineupSlice.actions;
