import { createSelector } from '@reduxjs/toolkit';
import { arrange, type Arranged } from '@pocket-twin/core/lineup/arrange.ts';
import type { LineupEntry, LineupQuery } from '@pocket-twin/core/schema/lineup.ts';
import { useAppSelector } from './store.ts';
import { useLineupQuery, type LineupById } from './api.ts';

export interface Lineup extends LineupById, Arranged {
  all: LineupEntry[];
  /** The clips in the order they are shown. */
  order: string[];
}

type Query = Omit<LineupQuery, 'grouped'>;

/** Made once for all who look at it: a screen that comes up after another does not arrange thousands of clips again. */
const arrangedLineup = createSelector(
  [
    (index: LineupById) => index,
    (_index: LineupById, query: Query) => query,
    (_index: LineupById, _query: Query, grouped: boolean) => grouped,
  ],
  (index, query, grouped): Lineup => {
    const all = Object.values(index.entries);
    const arranged = arrange(all, index.setups, { ...query, grouped }, index.edit?.usedSeconds);
    return { ...index, ...arranged, all, order: arranged.groups.flatMap(({ ids }) => ids) };
  },
);

/** A project's lineup as it is looked at now: sorted, searched and narrowed here, without asking the server. */
export function useLineup(projectId: string): { lineup: Lineup | undefined; error: unknown; isLoading: boolean } {
  const { currentData, error, isLoading } = useLineupQuery(projectId);
  const { query, grouped } = useAppSelector((state) => state.lineup);
  return { lineup: currentData && arrangedLineup(currentData, query, grouped), error, isLoading };
}
