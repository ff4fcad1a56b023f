import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { SuggestionUsed } from '@pocket-twin/core/schema/batch.ts';
import type { LineupColumn, LineupFilter, LineupQuery } from '@pocket-twin/core/schema/lineup.ts';
import { rememberedColumns, type ShownColumns } from './table/shownColumns.ts';

/** Something that was done to many clips, with its way back. */
export type LineupNews =
  | { kind: 'suggestion'; projectId: string; used: SuggestionUsed; suggestion: string }
  | { kind: 'removed'; projectId: string; clipIds: string[]; name: string }
  | { kind: 'said'; projectId: string; tone: 'fix' | 'fine'; sentence: string };

interface LineupState {
  query: Omit<LineupQuery, 'grouped'>;
  grouped: boolean;
  /** Setups whose clips are folded away. */
  folded: string[];
  /** Clips whose channels are shown. */
  unfolded: string[];
  /** Chosen clips of each project; filtering does not touch them. */
  chosen: Record<string, string[]>;
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
  query: { sort: 'came', descending: false, search: '' }, grouped: true, folded: [], unfolded: [], chosen: {}, columns: rememberedColumns(), news: null, hearing: null, pointing: null, queue: null,
});

export const lineupSlice = createSlice({
  name: 'lineup',
  initialState,
  reducers: {
    sorted: (state, { payload }: PayloadAction<{ column: LineupColumn; descending: boolean }>) => {
      Object.assign(state.query, { sort: payload.column, descending: payload.descending });
    },
    searched: (state, { payload }: PayloadAction<string>) => { state.query.search = payload; },
    filtered: (state, { payload }: PayloadAction<LineupFilter | undefined>) => { state.query.only = payload; },
    grouping: (state, { payload }: PayloadAction<boolean>) => { state.grouped = payload; },
    expanded: (state, { payload: { open, setups } }: PayloadAction<{ open: string[]; setups: string[] }>) => {
      const opened = new Set(open);
      const known = new Set(setups);
      state.folded = setups.filter((id) => !opened.has(id));
      state.unfolded = open.filter((id) => !known.has(id));
    },
    chosen: (state, { payload: { projectId, ids } }: PayloadAction<{ projectId: string; ids: string[] }>) => { state.chosen[projectId] = ids; },
    columnsShown: (state, { payload }: PayloadAction<ShownColumns>) => { state.columns = payload; },
    newsCame: (state, { payload }: PayloadAction<LineupNews>) => { state.news = payload; },
    newsGone: (state) => { state.news = null; },
    hearingBegan: (state, { payload }: PayloadAction<NonNullable<LineupState['hearing']>>) => { state.hearing = payload; },
    hearingEnded: (state) => { state.hearing = null; },
    pointingBegan: (state, { payload }: PayloadAction<LineupState['pointing']>) => { state.pointing = payload; },
    queueSet: (state, { payload }: PayloadAction<string[] | null>) => { state.queue = payload; },
  },
});

export const {
  sorted, searched, filtered, grouping, expanded, chosen, columnsShown, newsCame, newsGone, hearingBegan, hearingEnded, pointingBegan, queueSet,
} = lineupSlice.actions;
