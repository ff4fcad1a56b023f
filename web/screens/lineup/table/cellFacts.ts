import type { LineupEntry, LineupRow } from '@pocket-twin/core/schema/lineup.ts';
import type { Setup } from '@pocket-twin/core/schema/setup.ts';

/** What a cell is made from: the entry is always there, the row comes when the clip is in sight. */
export interface CellFacts {
  projectId: string;
  entry: LineupEntry;
  row: LineupRow | undefined;
  setup: Setup | undefined;
}
