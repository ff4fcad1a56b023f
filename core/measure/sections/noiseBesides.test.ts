import fc from 'fast-check';
import { powerFromDb } from '../../signal/decibels.ts';
import { noiseBesides } from './noiseBesides.ts';

const WINDOW = 20;
const db = (...levels: number[]): Float64Array => Float64Array.from(levels, powerFromDb);
const times = (level: number, count: number): number[] => Array<number>(count).fill(level);

/** The plain version: each window sorted anew. */
function plainly(powers: Float64Array): { before: number[]; after: number[] } {
  const windowEndingAt = (end: number): { power: number; sure: boolean } => {
    const sorted = [...powers.slice(Math.max(0, end + 1 - WINDOW), end + 1)]
      .filter((power) => power > 1e-12)
      .sort((a, b) => a - b);
    if (sorted.length === 0) return { power: 0, sure: false };
    const at = (share: number): number => sorted[Math.floor(share * sorted.length)];
    const known =
      at(0.1) < powerFromDb(-45) && (at(0.5) < powerFromDb(2) * at(0.1) || at(0.9) > powerFromDb(10) * at(0.1));
    return { power: known ? at(0.1) : 0, sure: known && sorted[4] <= powerFromDb(2) * sorted[1] };
  };
  const both = [...powers].map((power, i) => {
    const [earlier, later] = [windowEndingAt(i), windowEndingAt(Math.min(powers.length, i + WINDOW) - 1)];
    const [first, second] =
      earlier.sure === later.sure ? [earlier, later] : earlier.sure ? [earlier, earlier] : [later, later];
    const most = powerFromDb(1) * power;
    return { before: Math.min(most, first.power || second.power), after: Math.min(most, second.power || first.power) };
  });
  return { before: both.map(({ before }) => before), after: both.map(({ after }) => after) };
}

test('for any levels, silence among them, it is what sorting every window anew gives', () => {
  const level = fc.oneof(
    { weight: 8, arbitrary: fc.double({ min: -90, max: -6, noNaN: true }) },
    { weight: 2, arbitrary: fc.constant(-200) },
    { weight: 3, arbitrary: fc.constant(-60) },
  );
  fc.assert(
    fc.property(fc.array(level, { maxLength: 90 }), (levels) => {
      const powers = db(...levels);
      const { before, after } = noiseBesides(powers);
      expect({ before: [...before], after: [...after] }).toEqual(plainly(powers));
    }),
  );
});

test('where the noise steps, a block of speech has the old noise before it and the new one after it', () => {
  const talk = [-30, -25, -28, -31, -26];
  const { before, after } = noiseBesides(db(...times(-70, 25), ...talk, ...times(-55, 25)));
  expect(before[27]).toBeCloseTo(powerFromDb(-70), 12);
  expect(after[27]).toBeCloseTo(powerFromDb(-55), 12);
});

test('a steady programme is no noise, and nothing is more noise than it is sound', () => {
  expect([...noiseBesides(db(...times(-30, 40))).before]).toEqual(Array(40).fill(0));
  const fading = db(...Array.from({ length: 40 }, (_, i) => -50 - i));
  noiseBesides(fading).after.forEach((noise, i) => expect(noise).toBeLessThanOrEqual(powerFromDb(1.001) * fading[i]));
});
