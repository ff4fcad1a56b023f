import { useMemo } from 'react';
import { isUndecided, nextUndecided } from '@pocket-twin/core/lineup/standing.ts';
import type { LineupEntry } from '@pocket-twin/core/schema/lineup.ts';
import { useLineup } from '../../state/useLineup.ts';
import { useAppSelector } from '../../state/store.ts';

export interface BenchQueue {
  /** Clips to go through, in order: those chosen in the lineup, else all in sight there, as filtered and sorted. */
  order: string[];
  entries: Record<string, LineupEntry>;
  /** Of them, those about which nothing is decided. */
  left: number;
  /** The next of these; undefined where there is none. */
  next: string | undefined;
}

const NO_ENTRIES: Record<string, LineupEntry> = {};

export function useBenchQueue(projectId: string, clipId: string): BenchQueue {
  const chosen = useAppSelector((state) => state.lineup.queue);
  const { lineup } = useLineup(projectId);
  return useMemo(() => {
    const entries = lineup?.entries ?? NO_ENTRIES;
    const shown = chosen?.includes(clipId) ? chosen.filter((id) => entries[id]) : (lineup?.order ?? []);
    // A clip that the filter no longer shows, as it was just put right, is still where its turn was.
    const order = shown.includes(clipId) || !entries[clipId] ? shown : [clipId, ...shown];
    return {
      order,
      entries,
      left: order.filter((id) => isUndecided(entries[id].standing)).length,
      next: nextUndecided(order, entries, clipId),
    };
  }, [chosen, clipId, lineup]);
}
