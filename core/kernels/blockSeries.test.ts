import fc from 'fast-check';
import {
  cheapestPath,
  dividedBy,
  largerOf,
  largestAt,
  largestOfSteady,
  leaningTurn,
  markedOf,
  marksAbove,
  marksApart,
  marksOfEither,
  orElse,
  placesBetween,
  raisedTo,
  ranked,
  ratiosAt,
  slidingMeans,
  sumsOf,
  sumsWhereBoth,
  totalOf,
  unlikePowers,
  valuesAbove,
} from './blockSeries.ts';

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

test('places are those of the values between two bounds, neither of them included', () => {
  fc.assert(
    fc.property(powers, (values) => {
      const [least, most] = [values[1] ?? 0, values[2] ?? 1];
      const plain = [...values.keys()].filter((i) => values[i] > least && values[i] < most);
      expect([...placesBetween(values, least, most)]).toEqual(plain);
      expect([...placesBetween(values, least)]).toEqual([...values.keys()].filter((i) => values[i] > least));
    }),
  );
});

test('the largest is found, or the least, and of equal ones the first', () => {
  const list = fc.array(fc.oneof(fc.constantFrom(-1, 0, 1), fc.double({ noNaN: true })), { minLength: 1 });
  fc.assert(
    fc.property(list, (values) => {
      const given = Float64Array.from(values, (x) => x + 0);
      expect(largestAt(given)).toBe(given.indexOf(Math.max(...given)));
      expect(largestAt(given, -1)).toBe(given.indexOf(Math.min(...given)));
    }),
  );
});

/** Two series of one length. */
const pairs = fc
  .array(fc.tuple(...[0, 1].map(() => fc.oneof(fc.constant(0), fc.double({ min: 1e-9, max: 1, noNaN: true })))), {
    maxLength: 60,
  })
  .map((rows) => [0, 1].map((side) => Float64Array.from(rows, (row) => row[side])));

test('what is made of each two values is what it says', () => {
  fc.assert(
    fc.property(pairs, fc.double({ min: 0.001, max: 1, noNaN: true }), ([one, other], least) => {
      const given = [one.slice(), other.slice()];
      const plain = (make: (a: number, b: number) => number): number[] => [...one].map((a, i) => make(a, other[i]));
      expect([...largerOf(one, other)]).toEqual(plain(Math.max));
      expect([...sumsOf(one, other)]).toEqual(plain((a, b) => a + b));
      expect([...sumsWhereBoth(one, other, least)]).toEqual(plain((a, b) => (a > least && b > least ? a + b : 0)));
      expect([...orElse(one, least, other)]).toEqual(plain((a, b) => (a < least ? b : a)));
      expect([...raisedTo(one, least)]).toEqual(plain((a) => Math.max(a, least)));
      expect([...dividedBy(one, least)]).toEqual(plain((a) => a / least));
      const where = placesBetween(one, least / 2);
      expect([...ratiosAt(one, other, where, least)]).toEqual(
        [...where].map((i) => (one[i] + least) / (other[i] + least)),
      );
      expect([one, other]).toEqual(given);
    }),
  );
});

test('a total takes the last value as often as it is told', () => {
  fc.assert(
    fc.property(powers, (values) => {
      const plain = [...values].reduce((sum, x, i) => sum + x * (i === values.length - 1 ? 7 : 40), 0);
      expect(totalOf(values, 40, 7)).toBe(plain);
      expect(totalOf(values)).toBe([...values].reduce((sum, x) => sum + x, 0));
    }),
  );
});

test('marks say which values are beyond the least, and which places lie apart from all of those', () => {
  fc.assert(
    fc.property(pairs, fc.double({ min: 0, max: 1, noNaN: true }), ([one, other], least) => {
      const marks = marksAbove(one, least);
      expect([...marks]).toEqual([...one].map((x) => (x > least ? 1 : 0)));
      expect([...markedOf(other, marks)]).toEqual([...other].filter((_, i) => one[i] > least));
      const near = [-1, 0, 1].map((step) => (i: number) => (marks[i + step] ?? 0) === 1);
      expect([...marksApart(marks)]).toEqual([...marks.keys()].map((i) => (near.some((is) => is(i)) ? 0 : 1)));
      const either = [...marks.keys()].map((i) => (one[i] > least || other[i] > least ? 1 : 0));
      expect([...marksOfEither(marks, marksAbove(other, least))]).toEqual(either);
    }),
  );
});

test('unlike is what one has that the other, as much larger as it mostly is, does not account for', () => {
  const above = fc.double({ min: 1e-6, max: 1, noNaN: true });
  const rows = fc.array(fc.tuple(above, above), { maxLength: 40 });
  fc.assert(
    fc.property(rows, above, above, (list, oneLeast, otherLeast) => {
      const [one, other] = [0, 1].map((side) => Float64Array.from(list, (row) => row[side]));
      const loud = [...one.keys()].slice(1, -1).filter((i) => one[i] >= oneLeast || other[i] >= otherLeast);
      const ratios = loud.map((i) => one[i] / other[i]);
      const mostly = ratios.toSorted((a, b) => a - b)[ratios.length >> 1];
      const excess = loud.map((i, k) => {
        const ratio = ratios[k] / mostly;
        return ratio < 1.5 && ratio > 1 / 1.5 ? 0 : one[i] - mostly * other[i];
      });
      const found = unlikePowers([one, oneLeast], [other, otherLeast], 1.5);
      expect([[...found.loud], [...found.excess]]).toEqual([loud, excess]);
    }),
  );
});

test('what leans one way before and the other way after turns between them', () => {
  const [one, other] = [Float64Array.of(3, 9, 3, 4, 1, 1, 0, 1), Float64Array.of(1, 0, 2, 1, 2, 3, 9, 2)];
  expect(leaningTurn(one, other, Int32Array.of(0, 2, 3, 4, 5, 7))).toEqual({ split: 3, furthest: 6 });
  expect(leaningTurn(one, other, Int32Array.of(0, 2, 3, 4, 5, 7).reverse())).toEqual({ split: 3, furthest: 6 });
  // One that leans the other way takes two from it.
  expect(leaningTurn(one, other, Int32Array.of(0, 4, 2, 3, 5, 6, 7)).furthest).toBe(5);
  expect(leaningTurn(one, one, Int32Array.of(0, 1, 2))).toEqual({ split: 0, furthest: 0 });
  expect(leaningTurn(one, other, new Int32Array(0))).toEqual({ split: 0, furthest: 0 });
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
