import fc from 'fast-check';
import { LineupColumn, LineupFilter, Standing, type LineupEntry, type LineupQuery } from '../schema/lineup.ts';
import type { Setup } from '../schema/setup.ts';
import { arrange } from './arrange.ts';
import { nextUndecided } from './standing.ts';

const made = (n: number, rest: Partial<LineupEntry> = {}): LineupEntry => ({
  id: `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`,
  name: `take-${n}.wav`,
  fileName: `take-${n}.wav`,
  folder: '',
  setupId: null,
  standing: 'open',
  severity: 'fix',
  verdict: 'one-sided',
  side: 'left',
  headline: 'Only the left side carries speech.',
  fact: 'The right side is silent',
  cause: null,
  error: null,
  suggestion: 'Fill right from left',
  kept: null,
  durationSeconds: 10,
  channels: 2,
  leftLufs: -20,
  rightLufs: null,
  balanceLu: null,
  startSeconds: null,
  wantsFrameRate: false,
  lost: false,
  cameAtMs: 1000,
  ...rest,
});
const look = (rest: Partial<LineupQuery> = {}): LineupQuery => ({
  sort: 'came',
  descending: false,
  search: '',
  grouped: false,
  ...rest,
});
const numbers = (entries: LineupEntry[], query: Partial<LineupQuery> = {}, setups: Setup[] = []): number[] =>
  arrange(entries, setups, look(query))
    .groups.flatMap(({ ids }) => ids)
    .map((id) => Number(id.slice(-4)));

const anyEntry = fc
  .record({
    n: fc.nat(9999),
    standing: fc.constantFrom(...Standing.options),
    verdict: fc.constantFrom('one-sided', 'stereo', 'mono', null),
    folder: fc.constantFrom('', 'day 1', 'day 10', 'day 2'),
    leftLufs: fc.option(fc.double({ min: -70, max: 0, noNaN: true })),
    cameAtMs: fc.nat(3),
    setupId: fc.constantFrom(null, 'a', 'b'),
  })
  .map(({ n, ...rest }) => made(n, rest as Partial<LineupEntry>));
const anyEntries = fc.uniqueArray(anyEntry, { selector: ({ id }) => id, maxLength: 40 });

test('whatever is asked for, each clip that fits is there once, and the counts say how many fit each filter', () => {
  fc.assert(
    fc.property(
      anyEntries,
      fc.constantFrom(...LineupColumn.options),
      fc.boolean(),
      fc.boolean(),
      (entries, sort, descending, grouped) => {
        const used = Object.fromEntries(entries.filter((_, i) => i % 2 === 0).map(({ id }) => [id, 1]));
        const all = arrange(entries, [], look({ sort, descending, grouped }), used);
        expect(all.counts['in-edit'] ?? 0).toBe(Object.keys(used).length);
        expect(all.groups.flatMap(({ ids }) => ids).sort()).toEqual(entries.map(({ id }) => id).sort());
        for (const only of LineupFilter.options) {
          const narrowed = arrange(entries, [], look({ sort, descending, grouped, only }), used);
          expect(narrowed.shown).toBe(all.counts[only] ?? 0);
          expect(narrowed.counts).toEqual(all.counts);
        }
        // Each clip stands in one place.
        expect(Standing.options.reduce((sum, standing) => sum + (all.counts[standing] ?? 0), 0)).toBe(entries.length);
      },
    ),
  );
});

test('what has no value stands last, whichever way round, and equals stand as they came', () => {
  const entries = [
    made(1, { leftLufs: null }),
    made(2, { leftLufs: -30 }),
    made(3, { leftLufs: -10 }),
    made(4, { leftLufs: -30 }),
  ];
  expect(numbers(entries, { sort: 'left' })).toEqual([2, 4, 3, 1]);
  expect(numbers(entries, { sort: 'left', descending: true })).toEqual([3, 2, 4, 1]);
  expect(numbers([made(10), made(9), made(100)], { sort: 'name' })).toEqual([9, 10, 100]);
  expect(
    numbers([made(1, { name: 'Élan.wav' }), made(2, { name: 'elbow.wav' }), made(3, { name: 'Ebb.wav' })], {
      sort: 'name',
    }),
  ).toEqual([3, 1, 2]);
  expect(numbers([made(2, { folder: 'day 10' }), made(3, { folder: 'day 2' }), made(1, { cameAtMs: 2000 })])).toEqual([
    3, 2, 1,
  ]);
});

test('a search finds names, sentences, setups, verdicts and where a clip stands, all of its words together', () => {
  const setups = [{ id: 'deck', name: 'Ferry deck' }] as Setup[];
  const entries = [
    made(1, { setupId: 'deck' }),
    made(2, { standing: 'kept', kept: 'Swap sides' }),
    made(3, {
      standing: 'look',
      verdict: 'two-mics',
      side: null,
      suggestion: null,
      headline: 'Two microphones, one on each side.',
    }),
  ];
  for (const [search, found] of [
    ['FERRY', [1]],
    ['swap', [2]],
    ['repair kept', [2]],
    ['to look at', [3]],
    ['two-mics', [3]],
    ['one-sided left', [1, 2]],
    ['one-sided microphones', []],
    ['  ', [1, 2, 3]],
  ] as const) {
    expect([search, numbers(entries, { search }, setups)]).toEqual([search, found]);
  }
});

test('the next undecided clip is looked for around the end of the list, and never the one it is asked from', () => {
  const entries = Object.fromEntries(
    ['a', 'b', 'c', 'd'].map((id, i) => [id, { standing: (['open', 'kept', 'look', 'fine'] as const)[i] }]),
  );
  const from = (after?: string): string | undefined => nextUndecided(['a', 'b', 'c', 'd'], entries, after);
  expect([from(), from('a'), from('b'), from('c'), from('d')]).toEqual(['a', 'c', 'c', 'a', 'a']);
  expect(nextUndecided(['a'], entries, 'a')).toBeUndefined();
});

test('a clip whose setup was formed a moment ago, and is not known here yet, stands with those in no setup', () => {
  const setup = { id: '00000000-0000-4000-9000-000000000001', name: 'deck' } as Setup;
  const entries = [
    made(1, { setupId: setup.id }),
    made(2, { setupId: '00000000-0000-4000-9000-000000000002' }),
    made(3),
  ];
  const { groups } = arrange(entries, [setup], look({ grouped: true }));
  expect(groups).toEqual([
    { setupId: setup.id, ids: [entries[0].id] },
    { setupId: null, ids: [entries[1].id, entries[2].id] },
  ]);
});
