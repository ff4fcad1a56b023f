import type { LineupRow } from '@pocket-twin/core/schema/lineup.ts';
import { useRowQuery } from '../../api/api.ts';

/** A clip's row; undefined until it has come. */
export function useRow(projectId: string, id: string): LineupRow | undefined {
  return useRowQuery({ projectId, id }).data ?? undefined;
}
