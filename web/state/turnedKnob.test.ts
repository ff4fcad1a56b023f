import { turnedKnob } from './turnedKnob.ts';

test('the numbers that differ are named; anything else that differs is no knob', () => {
  const at = (a: number, b: number, word = 'x') => ({ list: [{ a, word }, { b }] });
  expect(turnedKnob(at(1, 2), at(5, 2))).toBe('.list.0.a');
  expect(turnedKnob(at(1, 2), at(5, 6))).toBe('.list.0.a .list.1.b');
  expect(turnedKnob(at(1, 2), at(5, 2, 'y'))).toBeNull();
  expect(turnedKnob({ list: [] }, { list: [1] })).toBeNull();
  expect(turnedKnob({ level: null }, { level: { db: 1 } })).toBeNull();
});
