import { useMemo } from 'react';
import { useLineupQuery } from '../../api/api.ts';
import { useAppSelector } from '../../app/store.ts';

/** The clips to go through, by id: those that were chosen in the lineup, else all of the project in the lineup's order. */
export function useBenchQueue(projectId: string, clipId: string): string[] {
  const { queue, query, grouped } = useAppSelector((state) => state.lineup);
  // A search or a filter narrows the lineup, not what is left to do.
  const { data: lineup } = useLineupQuery({ projectId, sort: query.sort, descending: query.descending, search: '', grouped });
  return useMemo(() => (queue?.includes(clipId) ? queue : lineup?.groups.flatMap(({ ids }) => ids) ?? []), [clipId, lineup?.groups, queue]);
}
