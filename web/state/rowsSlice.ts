import { createSlice, isAnyOf, type PayloadAction } from '@reduxjs/toolkit';
import type { LineupRow } from '@pocket-twin/core/schema/lineup.ts';
import { api } from './api.ts';

interface RowsState {
  /** null where the clip is gone. */
  byId: Record<string, LineupRow | null>;
  /** The version of all rows that each was last fetched for; older ones are shown until they have come anew. */
  fetchedFor: Record<string, number>;
  version: number;
}

const initialState: RowsState = { byId: {}, fetchedFor: {}, version: 0 };

/**
 * The rows of the lineup by their clips' ids. Not in RTK Query's cache: thousands of entries there, each told of by actions of its own, are what
 * scrolling would wait for. Here what comes together is one action.
 */
export const rowsSlice = createSlice({
  name: 'rows',
  initialState,
  reducers: {
    /** `version` is what was asked for; what was not asked for is of now. */
    rowsCame: (
      state,
      {
        payload: { rows, gone = [], version = state.version },
      }: PayloadAction<{ rows: LineupRow[]; gone?: string[]; version?: number }>,
    ) => {
      for (const row of rows) state.byId[row.id] = row;
      for (const id of gone) state.byId[id] = null;
      for (const id of [...rows.map((row) => row.id), ...gone]) state.fetchedFor[id] = version;
    },
    rowsOutdated: (state) => {
      state.version++;
    },
  },
  extraReducers: (build) => {
    const { moveClips, changeSetup, mergeSetups, splitSetup, undoLast, redoNext } = api.endpoints;
    build.addMatcher(
      isAnyOf(
        moveClips.matchFulfilled,
        changeSetup.matchFulfilled,
        mergeSetups.matchFulfilled,
        splitSetup.matchFulfilled,
        undoLast.matchFulfilled,
        redoNext.matchFulfilled,
      ),
      (state) => {
        state.version++;
      },
    );
  },
});

export const { rowsCame, rowsOutdated } = rowsSlice.actions;

/** Whether a row is there, and no older than all rows were last known to be. */
export function isRowFresh({ fetchedFor, version }: RowsState, id: string): boolean {
  return fetchedFor[id] === version;
}
