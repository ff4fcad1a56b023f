import { ON_THEIR_OWN, TableItems, WITHOUT_SETUP } from './tableItems.ts';

const GROUPS = [{ setupId: 'deck', ids: ['a', 'b'] }, { setupId: null, ids: ['c'] }];
const folded = (): number => 0;
const none = (): boolean => false;

test('what has not changed is the same item, so that nothing of it is drawn anew', () => {
  const items = new TableItems();
  const before = items.grouped(GROUPS, folded, none);
  expect(before.map(({ id, clips }) => [id, clips.map((clip) => clip.id)])).toEqual([['deck', ['a', 'b']], [WITHOUT_SETUP, ['c']]]);
  const same = items.grouped(structuredClone(GROUPS), folded, none);
  expect(same[0]).toBe(before[0]);
  const after = items.grouped(GROUPS, (id) => (id === 'b' ? 2 : 0), none);
  expect(after[0]).not.toBe(before[0]);
  expect(after[0].clips[0]).toBe(before[0].clips[0]);
  expect(after[0].clips[1].channels).toEqual([{ kind: 'channel', id: 'b:1', clipId: 'b', channel: 1 }, { kind: 'channel', id: 'b:2', clipId: 'b', channel: 2 }]);
  expect(after[1]).toBe(before[1]);
  expect(items.flat(GROUPS, folded).map(({ id }) => id)).toEqual(['a', 'b', 'c']);
});

test('clips that are each the only one of a setup stand together, after the setups and before what is in none', () => {
  const groups = [{ setupId: 'lone 1', ids: ['x'] }, ...GROUPS.slice(0, 1), { setupId: 'lone 2', ids: ['y'] }, ...GROUPS.slice(1)];
  const shape = (isLone: (id: string) => boolean) => new TableItems().grouped(groups, folded, isLone).map(({ id, clips }) => [id, clips.map((clip) => clip.id)]);
  expect(shape((id) => id.startsWith('lone'))).toEqual([['deck', ['a', 'b']], [ON_THEIR_OWN, ['x', 'y']], [WITHOUT_SETUP, ['c']]]);
  // One alone keeps its own heading.
  expect(shape((id) => id === 'lone 2').map(([id]) => id)).toEqual(['lone 1', 'deck', 'lone 2', WITHOUT_SETUP]);
});
