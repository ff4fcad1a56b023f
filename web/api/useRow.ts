import { useEffect } from 'react';
import type { LineupRow } from '@pocket-twin/core/schema/lineup.ts';
import { store, useAppSelector, type RootState } from '../app/store.ts';
import { fetchRows, RowKeeper } from './rowKeeper.ts';
import { rowsCame } from './rowsSlice.ts';

const keeper = new RowKeeper(fetchRows, {
  isFresh: (id) => isFresh(store.getState(), id),
  version: () => store.getState().rows.version,
  take: (rows, gone, version) => {
    store.dispatch(rowsCame({ rows, gone, version }));
  },
});

function isFresh({ rows: { fetchedFor, version } }: RootState, id: string): boolean {
  return fetchedFor[id] === version;
}

/** A clip's row; undefined until it has come. Somebody must have it fetched: `useRowFetched`. */
export function useRow(id: string): LineupRow | undefined {
  return useAppSelector((state) => state.rows.byId[id]) ?? undefined;
}

/**
 * Has a clip's row fetched, and again whenever rows have changed.
 * @param around what is fetched with it, as it may come into sight next
 */
export function useRowFetched(projectId: string, id: string, around?: (id: string) => readonly string[]): void {
  const missing = useAppSelector((state) => (isFresh(state, id) ? null : state.rows.version));
  useEffect(() => {
    if (missing !== null) keeper.want(projectId, around?.(id) ?? [id]);
  }, [around, id, missing, projectId]);
}
