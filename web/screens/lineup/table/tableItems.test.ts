import { TableItems, WITHOUT_SETUP } from './tableItems.ts';

const GROUPS = [{ setupId: 'deck', ids: ['a', 'b'] }, { setupId: null, ids: ['c'] }];
const folded = (): number => 0;

test('what has not changed is the same item, so that nothing of it is drawn anew', () => {
  const items = new TableItems();
  const before = items.grouped(GROUPS, folded);
  expect(before.map(({ id, clips }) => [id, clips.map((clip) => clip.id)])).toEqual([['deck', ['a', 'b']], [WITHOUT_SETUP, ['c']]]);
  const same = items.grouped(structuredClone(GROUPS), folded);
  expect(same[0]).toBe(before[0]);
  const after = items.grouped(GROUPS, (id) => (id === 'b' ? 2 : 0));
  expect(after[0]).not.toBe(before[0]);
  expect(after[0].clips[0]).toBe(before[0].clips[0]);
  expect(after[0].clips[1].channels).toEqual([{ kind: 'channel', id: 'b:1', clipId: 'b', channel: 1 }, { kind: 'channel', id: 'b:2', clipId: 'b', channel: 2 }]);
  expect(after[1]).toBe(before[1]);
  expect(items.flat(GROUPS, folded).map(({ id }) => id)).toEqual(['a', 'b', 'c']);
});
