import { useEffect } from 'react';
import type { LineupRow } from '@pocket-twin/core/schema/lineup.ts';
import { isRowFresh } from './rowsSlice.ts';
import { useServices } from './services.ts';
import { useAppSelector } from './store.ts';

/** A clip's row; undefined until it has come. Somebody must have it fetched: `useRowFetched`. */
export function useRow(id: string): LineupRow | undefined {
  return useAppSelector((state) => state.rows.byId[id]) ?? undefined;
}

/**
 * Has a clip's row fetched, and again whenever rows have changed.
 * @param around what is fetched with it, as it may come into sight next
 */
export function useRowFetched(projectId: string, id: string, around?: (id: string) => readonly string[]): void {
  const { rows } = useServices();
  const missing = useAppSelector((state) => (isRowFresh(state.rows, id) ? null : state.rows.version));
  useEffect(() => {
    if (missing !== null) rows.want(projectId, around?.(id) ?? [id]);
  }, [around, id, missing, projectId, rows]);
}
