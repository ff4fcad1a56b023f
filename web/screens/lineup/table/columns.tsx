import type { ReactNode } from 'react';
import type { LineupColumn } from '@pocket-twin/core/schema/lineup.ts';
import type { CellFacts } from './cellFacts.ts';
import {
  BalanceCell,
  ChannelsCell,
  GlyphCell,
  LengthCell,
  LoudnessCell,
  NameCell,
  RibbonCell,
  StateCell,
  SuggestionCell,
  TimecodeCell,
  WhatCell,
} from './cells.tsx';
import type { ColumnId } from '../../../state/shownColumns.ts';

interface ColumnFacts {
  title: string;
  pixels: number;
  /** What it is sorted by; null where it cannot be. */
  sort: LineupColumn | null;
  /** Numbers line up at their right end. */
  numeric?: boolean;
  /** The title is for screen readers and the menu alone. */
  quiet?: boolean;
  cell: (facts: CellFacts) => ReactNode;
}

/** Everything a row can show. */
export const COLUMNS: Record<ColumnId, ColumnFacts> = {
  verdict: { title: 'Verdict', pixels: 60, sort: 'verdict', quiet: true, cell: (facts) => <GlyphCell {...facts} /> },
  name: { title: 'Clip', pixels: 186, sort: 'name', cell: (facts) => <NameCell {...facts} /> },
  ribbon: { title: 'Left above, right below', pixels: 176, sort: null, cell: (facts) => <RibbonCell {...facts} /> },
  what: { title: 'What is on it', pixels: 280, sort: 'what', cell: (facts) => <WhatCell {...facts} /> },
  left: {
    title: 'Left, LUFS',
    pixels: 86,
    sort: 'left',
    numeric: true,
    cell: ({ entry }) => <LoudnessCell entry={entry} lufs={entry.leftLufs} channel={1} />,
  },
  right: {
    title: 'Right, LUFS',
    pixels: 92,
    sort: 'right',
    numeric: true,
    cell: ({ entry }) => <LoudnessCell entry={entry} lufs={entry.rightLufs} channel={2} />,
  },
  balance: {
    title: 'Balance, LU',
    pixels: 98,
    sort: 'balance',
    numeric: true,
    cell: (facts) => <BalanceCell {...facts} />,
  },
  suggestion: { title: 'Repair', pixels: 200, sort: 'suggestion', cell: (facts) => <SuggestionCell {...facts} /> },
  state: { title: 'State', pixels: 112, sort: 'state', cell: (facts) => <StateCell {...facts} /> },
  length: { title: 'Length', pixels: 88, sort: 'length', numeric: true, cell: (facts) => <LengthCell {...facts} /> },
  channels: {
    title: 'Channels',
    pixels: 84,
    sort: 'channels',
    numeric: true,
    cell: (facts) => <ChannelsCell {...facts} />,
  },
  timecode: {
    title: 'Timecode',
    pixels: 116,
    sort: 'timecode',
    numeric: true,
    cell: (facts) => <TimecodeCell {...facts} />,
  },
  setup: { title: 'Setup', pixels: 180, sort: null, cell: ({ setup }) => setup?.name },
};
