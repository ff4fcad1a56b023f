import { sayKey, withChanges, type ScreenKey } from '../../parts/keyNames.ts';
import { changeKey } from './changeKey.ts';

const key = (id: string, key: string, more: Partial<ScreenKey> = {}): ScreenKey => ({
  id,
  key,
  does: id,
  group: 'Go',
  run: () => undefined,
  ...more,
});
const OURS = [
  key('play', ' ', { fixed: 'Space plays.' }),
  key('next', 'n'),
  key('write', 'w'),
  key('redo', 'Shift z'),
  key('table', '', { heardElsewhere: ['ArrowUp'], fixed: 'The table moves.' }),
];
const keysWith = (changes: Record<string, string>) =>
  Object.fromEntries(withChanges(OURS, changes).map(({ id, key }) => [id, key]));

test('a free key is given, and the one that it was is free again', () => {
  const answer = changeKey(OURS, {}, 'next', 'x');
  expect(answer).toEqual({ kind: 'changed', changes: { next: 'x' } });
  expect(changeKey(OURS, { next: 'x' }, 'write', 'n')).toEqual({ kind: 'changed', changes: { next: 'x', write: 'n' } });
});

test('a key that something else has is told, and both can be exchanged and go back', () => {
  const taken = changeKey(OURS, {}, 'next', 'w');
  expect(taken).toMatchObject({ kind: 'taken', by: { id: 'write' }, exchanged: { next: 'w', write: 'n' } });
  const back = changeKey(OURS, { next: 'w', write: 'n' }, 'next', 'n');
  expect(back).toMatchObject({ kind: 'taken', by: { id: 'write' }, exchanged: {} });
});

test('what lost its key to another has none, until it is given one', () => {
  expect(keysWith({ next: 'w' })).toMatchObject({ next: 'w', write: '' });
  expect(changeKey(OURS, { next: 'w' }, 'write', 'n')).toEqual({ kind: 'changed', changes: { next: 'w', write: 'n' } });
  // Exchanged with something that has a key, it gets that one, and the other goes without.
  const answer = changeKey(OURS, { next: 'w' }, 'write', 'w');
  expect(answer).toMatchObject({ kind: 'taken', exchanged: {} });
});

test('what is the same everywhere, and what belongs to the browser, is refused in words', () => {
  expect(changeKey(OURS, {}, 'next', ' ')).toEqual({ kind: 'refused', why: 'Space is taken for good. Space plays.' });
  expect(changeKey(OURS, {}, 'next', 'ArrowUp')).toMatchObject({ why: '↑ is taken for good. The table moves.' });
  for (const name of ['F5', 'Tab', 'Escape', 'Enter', 'Dead', 'Control'])
    expect(changeKey(OURS, {}, 'next', name)).toMatchObject({
      kind: 'refused',
      why: expect.stringContaining('belongs'),
    });
});

test('keys are written as a keyboard has them', () => {
  expect(['n', 'Shift z', '-', 'ArrowLeft', 'Delete', '?', 'ü', ''].map((name) => sayKey({ key: name }))).toEqual([
    'N',
    'Shift Z',
    '−',
    '←',
    'Del',
    '?',
    'ü',
    '',
  ]);
});
