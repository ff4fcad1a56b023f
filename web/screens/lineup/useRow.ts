import { useEffect } from 'react';
import type { LineupRow } from '@pocket-twin/core/schema/lineup.ts';
import { api } from '../../api/api.ts';
import { useAppDispatch, useAppSelector, type RootState } from '../../app/store.ts';

type RowSelector = (state: RootState) => { data?: LineupRow | null };

// A selector is made once a clip: every cell of every row in sight asks for its row whenever anything changes.
const selectors = new Map<string, RowSelector>();

function selectorOf(projectId: string, id: string): RowSelector {
  const known = selectors.get(id);
  if (known) return known;
  const made = api.endpoints.row.select({ projectId, id }) as RowSelector;
  selectors.set(id, made);
  return made;
}

/** A clip's row; undefined until it has come. Somebody must have it fetched: `useRowFetched`. */
export function useRow(projectId: string, id: string): LineupRow | undefined {
  const select = selectorOf(projectId, id);
  return useAppSelector((state) => select(state).data) ?? undefined;
}

/** Has a clip's row fetched and kept up to date; once a row is enough, as each one is told to the whole store. */
export function useRowFetched(projectId: string, id: string): void {
  const dispatch = useAppDispatch();
  useEffect(() => {
    const asked = dispatch(api.endpoints.row.initiate({ projectId, id }));
    return () => asked.unsubscribe();
  }, [dispatch, id, projectId]);
}
