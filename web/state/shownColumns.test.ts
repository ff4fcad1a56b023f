import fc from 'fast-check';
import {
  COLUMN_IDS,
  FIRST_COLUMNS,
  fittingColumns,
  listedColumns,
  movedColumn,
  rememberedColumns,
  rememberColumns,
  ShownColumns,
  toggledColumn,
  type ColumnId,
} from './shownColumns.ts';

const step = fc.record({
  id: fc.constantFrom(...COLUMN_IDS.filter((id) => id !== 'name')),
  by: fc.constantFrom(-1 as const, 0 as const, 1 as const),
});

test('whatever is shown, hidden and moved, every column is listed once and the order is one that is kept', () => {
  fc.assert(
    fc.property(fc.array(step, { maxLength: 40 }), (steps) => {
      const columns = steps.reduce(
        (now, { id, by }) => (by === 0 ? toggledColumn(now, id) : movedColumn(now, id, by)),
        FIRST_COLUMNS,
      );
      expect([...listedColumns(columns)].sort()).toEqual([...COLUMN_IDS].sort());
      expect(listedColumns(columns).slice(0, columns.order.length)).toEqual(columns.order);
      expect(columns.order).toContain('name');
      expect(ShownColumns.parse(JSON.parse(JSON.stringify(columns)))).toEqual(columns);
    }),
  );
});

test('a column moves past its neighbour, and back; at the ends it stays', () => {
  const moved = movedColumn(FIRST_COLUMNS, 'name', 1);
  expect(moved.order.slice(0, 3)).toEqual(['verdict', 'ribbon', 'name']);
  expect(movedColumn(moved, 'name', -1)).toEqual(FIRST_COLUMNS);
  expect(movedColumn(FIRST_COLUMNS, 'verdict', -1)).toBe(FIRST_COLUMNS);
  expect(movedColumn(FIRST_COLUMNS, 'state', 1)).toBe(FIRST_COLUMNS);
});

test('what was remembered comes back; what cannot be understood does not', () => {
  const kept = new Map<string, string>();
  const storage = {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => void kept.set(key, value),
  };
  Object.assign(globalThis, { localStorage: storage });
  const wanted = toggledColumn(FIRST_COLUMNS, 'timecode');
  rememberColumns(wanted);
  expect(rememberedColumns()).toEqual(wanted);
  for (const broken of ['{', '{"order":["ribbon"],"widths":{}}', '{"order":["name","moon"],"widths":{}}', '[]']) {
    kept.set([...kept.keys()][0], broken);
    expect(rememberedColumns()).toEqual(FIRST_COLUMNS);
  }
});

const widthOf = (id: ColumnId): number =>
  (
    ({ verdict: 60, name: 186, ribbon: 176, what: 280, left: 86, right: 92, suggestion: 200, state: 112 }) as Partial<
      Record<ColumnId, number>
    >
  )[id] ?? 100;

test('at every width all fits, the sentence has its 240 pixels, and what says least has given way first', () => {
  fc.assert(
    fc.property(fc.integer({ min: 560, max: 2600 }), (available) => {
      const shown = fittingColumns(FIRST_COLUMNS, available, widthOf);
      const ids = shown.map(({ id }) => id);
      expect(shown.reduce((sum, { pixels }) => sum + pixels, 46)).toBeLessThanOrEqual(available);
      expect(shown.find(({ id }) => id === 'what')!.pixels).toBeGreaterThanOrEqual(240);
      expect(shown.find(({ id }) => id === 'name')!.pixels).toBeGreaterThanOrEqual(120);
      expect(ids).toContain('suggestion');
      // Left and right go together, and only once the state has gone.
      expect(ids.includes('left')).toBe(ids.includes('right'));
      if (ids.includes('state')) expect(ids).toEqual(FIRST_COLUMNS.order);
      if (!ids.includes('left')) expect(ids).not.toContain('state');
      if (!ids.includes('ribbon')) expect(ids).not.toContain('left');
    }),
  );
  expect(fittingColumns(FIRST_COLUMNS, 1214, widthOf).map(({ id }) => id)).toEqual(FIRST_COLUMNS.order);
  expect(fittingColumns(FIRST_COLUMNS, 958, widthOf).map(({ id }) => id)).toEqual([
    'verdict',
    'name',
    'ribbon',
    'what',
    'suggestion',
  ]);
  expect(
    fittingColumns({ ...FIRST_COLUMNS, widths: { what: 400 } }, 2000, widthOf).find(({ id }) => id === 'what')!.pixels,
  ).toBe(400);
});
