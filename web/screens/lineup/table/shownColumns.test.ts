import fc from 'fast-check';
import { COLUMN_IDS, FIRST_COLUMNS, listedColumns, movedColumn, rememberedColumns, rememberColumns, ShownColumns, toggledColumn } from './shownColumns.ts';

const step = fc.record({ id: fc.constantFrom(...COLUMN_IDS.filter((id) => id !== 'name')), by: fc.constantFrom(-1 as const, 0 as const, 1 as const) });

test('whatever is shown, hidden and moved, every column is listed once and the order is one that is kept', () => {
  fc.assert(fc.property(fc.array(step, { maxLength: 40 }), (steps) => {
    const columns = steps.reduce((now, { id, by }) => (by === 0 ? toggledColumn(now, id) : movedColumn(now, id, by)), FIRST_COLUMNS);
    expect([...listedColumns(columns)].sort()).toEqual([...COLUMN_IDS].sort());
    expect(listedColumns(columns).slice(0, columns.order.length)).toEqual(columns.order);
    expect(columns.order).toContain('name');
    expect(ShownColumns.parse(JSON.parse(JSON.stringify(columns)))).toEqual(columns);
  }));
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
  const storage = { getItem: (key: string) => kept.get(key) ?? null, setItem: (key: string, value: string) => void kept.set(key, value) };
  Object.assign(globalThis, { localStorage: storage });
  const wanted = toggledColumn(FIRST_COLUMNS, 'timecode');
  rememberColumns(wanted);
  expect(rememberedColumns()).toEqual(wanted);
  for (const broken of ['{', '{"order":["ribbon"],"widths":{}}', '{"order":["name","moon"],"widths":{}}', '[]']) {
    kept.set([...kept.keys()][0], broken);
    expect(rememberedColumns()).toEqual(FIRST_COLUMNS);
  }
});
