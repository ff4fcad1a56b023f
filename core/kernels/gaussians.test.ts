import fc from 'fast-check';
import { gaussian, seededRandom } from '../signal/random.ts';
import { gaussians } from './gaussians.ts';

test('many normal numbers at once are those that come one after another', () => {
  // Longer than what is made at a time, and odd as well.
  const counts = fc.oneof(fc.integer({ min: 0, max: 60 }), fc.integer({ min: 8185, max: 8200 }));
  const seeds = fc.integer({ min: -(2 ** 31), max: 2 ** 32 - 1 });
  fc.assert(
    fc.property(counts, seeds, fc.double({ min: 0.001, max: 2, noNaN: true }), (count, seed, deviation) => {
      const next = gaussian(seededRandom(seed));
      const some = gaussians(count, deviation, seed);
      expect(some.length).toBe(count);
      let furthest = 0;
      for (const one of some) furthest = Math.max(furthest, Math.abs(one - deviation * next()));
      expect(furthest).toBeLessThan(1e-13);
    }),
  );
});

test('they are normal: their moments, and how seldom they lie far out', () => {
  const some = gaussians(2_000_000, 1, 1958);
  const mean = (of: (x: number) => number): number => some.reduce((sum, x) => sum + of(x), 0) / some.length;
  expect(mean((x) => x)).toBeCloseTo(0, 2);
  expect(mean((x) => x ** 2)).toBeCloseTo(1, 2);
  expect(mean((x) => x ** 4)).toBeCloseTo(3, 1);
  // Beyond four deviations lie 63 of a million.
  expect(mean((x) => (Math.abs(x) > 4 ? 1e6 : 0))).toBeGreaterThan(40);
  expect(mean((x) => (Math.abs(x) > 4 ? 1e6 : 0))).toBeLessThan(90);
});
