import fc from 'fast-check';
import { cheapestPath, largestOfSteady, ranked, slidingMeans, valuesAbove } from './blockSeries.ts';

const powers = fc
  .array(fc.oneof(fc.constant(0), fc.double({ min: 1e-9, max: 1, noNaN: true })), { maxLength: 80 })
  .map((values) => Float64Array.from(values));
const windows = fc.integer({ min: 1, max: 9 });

test('a rank is that of the sorted values, equal ones among them, and changes nothing', () => {
  const values = fc.array(fc.oneof(fc.constantFrom(0, 1, 2), fc.double({ noNaN: true })), {
    minLength: 1,
    maxLength: 300,
  });
  fc.assert(
    fc.property(values, fc.nat(), (list, any) => {
      const rank = any % list.length;
      const given = Float64Array.from(list);
      expect(ranked(given, rank) + 0).toBe(list.toSorted((a, b) => a - b)[rank] + 0);
      expect([...given]).toEqual(list);
    }),
  );
});

test('what is beyond a value, or at it too, is kept in order', () => {
  fc.assert(
    fc.property(powers, fc.boolean(), (values, orAt) => {
      const least = values[3] ?? 0.5;
      expect([...valuesAbove(values, least, orAt)]).toEqual([...values].filter((x) => (orAt ? x >= least : x > least)));
    }),
  );
});

test('sliding means are those of each window, of which what lies beyond the end is nothing', () => {
  fc.assert(
    fc.property(powers, windows, (values, length) => {
      const plain = [...values].map((_, i) => [...values.slice(i, i + length)].reduce((sum, x) => sum + x, 0) / length);
      expect([...slidingMeans(values, length, values.length)]).toEqual(plain);
    }),
  );
});

test('a window that is steady gives its largest value, one that moves or is silent somewhere gives none', () => {
  fc.assert(
    fc.property(powers, windows, (values, length) => {
      const plain = [...values].map((_, i) => {
        const window = [...values.slice(i, i + length)];
        const [least, largest] = [Math.min(...window), Math.max(...window)];
        return least === 0 || largest / least > 2 ? Infinity : largest;
      });
      expect([...largestOfSteady(values, length, 2, values.length)]).toEqual(plain);
    }),
  );
});

test('no path through the states costs less than the cheapest, and it costs what its states and changes do', () => {
  const STATES = 3;
  const costs = Float64Array.of(...[0, 1, 1], ...[1, 0, 0.25], ...[0.5, 1, 0], ...[0, 0, 0]);
  const costOf = (path: readonly number[], told: readonly number[], change: number): number =>
    path.reduce(
      (sum, state, i) => sum + costs[told[i] * STATES + state] + (i > 0 && state !== path[i - 1] ? change : 0),
      0,
    );
  const allPaths = (length: number): number[][] =>
    length === 0
      ? [[]]
      : allPaths(length - 1).flatMap((path) => Array.from({ length: STATES }, (_, s) => [...path, s]));
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 0, max: 3 }), { minLength: 1, maxLength: 6 }),
      fc.double({ min: 0, max: 2, noNaN: true }),
      (told, change) => {
        const found = [...cheapestPath(Uint8Array.from(told), costs, STATES, change)];
        const least = Math.min(...allPaths(told.length).map((path) => costOf(path, told, change)));
        expect(costOf(found, told, change)).toBeCloseTo(least, 9);
      },
    ),
  );
});

test('it holds where one call after another needs more room', () => {
  for (const length of [10, 100_000, 50, 400_000]) {
    const values = new Float64Array(length).fill(2);
    const means = slidingMeans(values, 5, length);
    expect([means.length, means[0], means[length - 1]]).toEqual([length, 2, 0.4]);
  }
});
