import type { ReactNode } from 'react';
import type { LineupColumn, LineupRow } from '@pocket-twin/core/schema/lineup.ts';
import {
  BalanceCell, ChannelsCell, GlyphCell, LengthCell, LoudnessCell, NameCell, RibbonCell, StateCell, SuggestionCell, TimecodeCell, WhatCell,
} from './cells.tsx';
import type { ColumnId } from './shownColumns.ts';

interface ColumnFacts {
  title: string;
  width: number;
  /** What the server sorts by; null where it cannot. */
  sort: LineupColumn | null;
  /** Numbers line up at their right end. */
  numeric?: boolean;
  /** The title is for screen readers and the menu alone. */
  quiet?: boolean;
  cell: (row: LineupRow, setupName: string | null) => ReactNode;
}

/** Everything a row can show. */
export const COLUMNS: Record<ColumnId, ColumnFacts> = {
  verdict: { title: 'Verdict', width: 60, sort: 'verdict', quiet: true, cell: (row) => <GlyphCell row={row} /> },
  name: { title: 'Clip', width: 186, sort: 'name', cell: (row) => <NameCell row={row} /> },
  ribbon: { title: 'Left above, right below', width: 176, sort: null, cell: (row) => <RibbonCell row={row} /> },
  what: { title: 'What is on it', width: 280, sort: 'what', cell: (row) => <WhatCell row={row} /> },
  left: { title: 'Left, LUFS', width: 86, sort: 'left', numeric: true, cell: (row) => <LoudnessCell row={row} channel={1} /> },
  right: { title: 'Right, LUFS', width: 92, sort: 'right', numeric: true, cell: (row) => <LoudnessCell row={row} channel={2} /> },
  balance: { title: 'Balance, LU', width: 98, sort: 'balance', numeric: true, cell: (row) => <BalanceCell row={row} /> },
  suggestion: { title: 'Repair', width: 178, sort: 'suggestion', cell: (row) => <SuggestionCell row={row} /> },
  state: { title: 'State', width: 112, sort: 'state', cell: (row) => <StateCell row={row} /> },
  length: { title: 'Length', width: 88, sort: 'length', numeric: true, cell: (row) => <LengthCell row={row} /> },
  channels: { title: 'Channels', width: 84, sort: 'channels', numeric: true, cell: (row) => <ChannelsCell row={row} /> },
  timecode: { title: 'Timecode', width: 116, sort: 'timecode', numeric: true, cell: (row) => <TimecodeCell row={row} /> },
  setup: { title: 'Setup', width: 180, sort: null, cell: (_row, setupName) => setupName },
};
