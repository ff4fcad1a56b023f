import type { LineupEntry } from '@pocket-twin/core/schema/lineup.ts';
import type { Setup } from '@pocket-twin/core/schema/setup.ts';
import { clipsBetween, ON_THEIR_OWN, tableLines, WITHOUT_SETUP } from './tableLines.ts';

const setup = (id: string, clips: number, named = false): Setup => ({ id, clips, named }) as Setup;
const lineup = {
  groups: [
    { setupId: 'lone1', ids: ['x'] },
    { setupId: 'deck', ids: ['a', 'b'] },
    { setupId: 'lone2', ids: ['y'] },
    { setupId: null, ids: ['bad'] },
  ],
  setups: [setup('lone1', 1), setup('deck', 2), setup('lone2', 1)],
  entries: Object.fromEntries(
    ['a', 'b', 'x', 'y', 'bad'].map((id) => [id, { id, channels: id === 'bad' ? null : 2 } as LineupEntry]),
  ),
};
const shown = (
  folding: { grouped?: boolean; folded?: string[]; unfolded?: string[] } = {},
  given: Parameters<typeof tableLines>[0] = lineup,
) => tableLines(given, { grouped: true, folded: [], unfolded: [], ...folding });
const keys = (...given: Parameters<typeof shown>): string[] => shown(...given).map(({ key }) => key);

test('setups head their clips, the lone ones stand together, what is in none comes last', () => {
  expect(keys()).toEqual(['deck', 'a', 'b', ON_THEIR_OWN, 'x', 'y', WITHOUT_SETUP, 'bad']);
  expect(keys({}, { ...lineup, setups: [setup('lone1', 1, true), setup('deck', 2), setup('lone2', 1)] })).toEqual([
    'lone1',
    'x',
    'deck',
    'a',
    'b',
    'lone2',
    'y',
    WITHOUT_SETUP,
    'bad',
  ]);
  expect(keys({ grouped: false })).toEqual(['x', 'a', 'b', 'y', 'bad']);
});

test('folded setups hide their clips, unfolded clips show their channels, at the right level', () => {
  expect(keys({ folded: ['deck'], unfolded: ['x', 'bad'] })).toEqual([
    'deck',
    ON_THEIR_OWN,
    'x',
    'x:1',
    'x:2',
    'y',
    WITHOUT_SETUP,
    'bad',
  ]);
  expect(
    shown({ unfolded: ['a'] })
      .slice(0, 4)
      .map(({ level }) => level),
  ).toEqual([1, 2, 3, 3]);
  expect(
    shown({ grouped: false, unfolded: ['x'] })
      .slice(0, 3)
      .map(({ level }) => level),
  ).toEqual([1, 2, 2]);
});

test('a run of clips leaves out headings and channels, and goes either way', () => {
  const lines = shown({ unfolded: ['a'] });
  expect(clipsBetween(lines, 0, 5)).toEqual(['a', 'b']);
  expect(clipsBetween(lines, 5, 1)).toEqual(['a', 'b']);
});
