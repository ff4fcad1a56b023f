import fc from 'fast-check';
import {
  crossingsOf,
  evened,
  largestMagnitude,
  lessMeansTwice,
  meanOfSeries,
  multiplied,
  sumOfSquares,
  sumsOfProducts,
} from './stretchSums.ts';

const sounds = fc
  .array(fc.tuple(fc.double({ min: -1, max: 1, noNaN: true }), fc.double({ min: -1, max: 1, noNaN: true })), {
    maxLength: 90,
  })
  .map((pairs) => [0, 1].map((side) => Float64Array.from(pairs, (pair) => pair[side])));

function plainSum(one: Float64Array, other: Float64Array): number {
  return one.reduce((sum, x, i) => sum + x * other[i], 0);
}

test('sums of squares and of products are those of the plain sums', () => {
  fc.assert(
    fc.property(sounds, ([left, right]) => {
      expect(sumOfSquares(left)).toBeCloseTo(plainSum(left, left), 10);
      const sums = sumsOfProducts(left, right);
      expect(sums.left).toBeCloseTo(plainSum(left, left), 10);
      expect(sums.right).toBeCloseTo(plainSum(right, right), 10);
      expect(sums.both).toBeCloseTo(plainSum(left, right), 10);
    }),
  );
});

test('sums leave out where either sound is as large as its ceiling', () => {
  const ceilings = fc.constantFrom<[number, number]>([0.5, Infinity], [Infinity, 0.25], [0.75, 0.5], [0, 1]);
  fc.assert(
    fc.property(sounds, ceilings, (sides, [most, otherMost]) => {
      const [left, right] = sides.map((side) => side.map((x) => Math.round(8 * x) / 8));
      const isBelow = left.map((x, i) => (Math.abs(x) < most && Math.abs(right[i]) < otherMost ? 1 : 0));
      const [l, r] = [left, right].map((side) => side.map((x, i) => x * isBelow[i]));
      const sums = sumsOfProducts(left, right, [most, otherMost]);
      expect(sums.left).toBeCloseTo(plainSum(l, l), 10);
      expect(sums.right).toBeCloseTo(plainSum(r, r), 10);
      expect(sums.both).toBeCloseTo(plainSum(l, r), 10);
    }),
  );
});

test('the mean of some series is that at each place', () => {
  fc.assert(
    fc.property(sounds, fc.integer({ min: 1, max: 5 }), ([one, other], count) => {
      const some = Array.from({ length: count }, (_, i) => (i % 2 === 0 ? one : other));
      const ones = Math.ceil(count / 2);
      const mean = meanOfSeries(some);
      expect(mean.length).toBe(one.length);
      for (let i = 0; i < one.length; i++)
        expect(mean[i]).toBeCloseTo((ones * one[i] + (count - ones) * other[i]) / count, 10);
    }),
  );
});

test('the largest magnitude is that of all samples', () => {
  fc.assert(
    fc.property(sounds, ([sound]) => {
      expect(largestMagnitude(sound)).toBe(sound.reduce((most, x) => Math.max(most, Math.abs(x)), 0));
    }),
  );
});

test('a sine about any mean is found where it goes through it, and one that does so too often is given up', () => {
  for (const offset of [-0.4, 0, 3]) {
    const period = 37.3;
    const sine = Float64Array.from({ length: 1000 }, (_, i) => offset + Math.sin((2 * Math.PI * (i + 5)) / period));
    const crossings = crossingsOf(sine, 0.3, 100)!;
    expect(crossings.length).toBe(Math.floor((1000 + 5) / (period / 2)));
    for (const [i, at] of crossings.entries()) {
      // A sine that ends within a wave has its mean a little off nought.
      expect(Math.abs(at - ((i + 1) * period) / 2 + 5)).toBeLessThan(0.4);
    }
    expect(crossingsOf(sine, 0.3, crossings.length)).toEqual(crossings);
    expect(crossingsOf(sine, 0.3, crossings.length - 1)).toBeNull();
  }
});

test('what does not go far enough to the other side is no crossing', () => {
  const plain = Float64Array.from({ length: 400 }, (_, i) => (i % 100 < 50 ? 1 : -1));
  const steps = plain.map((x, i) => (i % 10 === 5 ? -0.1 * x : x));
  expect(crossingsOf(plain, 0.3, 50)!.length).toBe(7);
  expect(crossingsOf(steps, 0.3, 50)!.length).toBe(7);
  expect(crossingsOf(steps, 0.05, 500)!.length).toBe(7 + 80);
});

test('each value is so many times as large, in a place of its own or where it is', () => {
  fc.assert(
    fc.property(sounds, fc.double({ min: -4, max: 4, noNaN: true }), ([sound], factor) => {
      const plain = sound.map((x) => factor * x);
      const apart = multiplied(sound, factor, new Float64Array(sound.length));
      expect([...apart]).toEqual([...plain]);
      expect([...multiplied(sound, factor, sound)]).toEqual([...plain]);
    }),
  );
});

/** The mean of some values within `half` to either side, by the plain sum. */
function meansAround(values: Float64Array, half: number): Float64Array {
  return values.map((_, i) => {
    const around = values.subarray(Math.max(0, i - half), i + half + 1);
    return around.reduce((sum, x) => sum + x, 0) / around.length;
  });
}

function plainlyEvened(left: Float64Array, right: Float64Array, shift: number, half: number): Float64Array[] {
  const [leftPower, rightPower] = [left, right].map((side) =>
    meansAround(
      meansAround(
        side.map((x) => x * x),
        half,
      ),
      half,
    ),
  );
  const even = right.map((x, i) => {
    const other = leftPower[i - shift];
    // Within rounding of the sums that move on, nothing is not told from next to nothing.
    return other > 1e-12 && rightPower[i] > 1e-12 ? x * Math.sqrt(other / rightPower[i]) : NaN;
  });
  return [even, leftPower, rightPower];
}

test('the right side becomes as loud as the left is around each moment, and outside of it stays as it is', () => {
  fc.assert(
    fc.property(sounds, fc.integer({ min: -100, max: 100 }), fc.integer({ min: 1, max: 9 }), (sides, shift, half) => {
      const [left, right] = sides;
      const into = (): Float64Array => new Float64Array(left.length);
      const even = evened(left, right, shift, half, { right: into(), leftPower: into(), rightPower: into() });
      const [plain, leftPower, rightPower] = plainlyEvened(left, right, shift, half);
      for (let i = 0; i < left.length; i++) {
        expect(even.leftPower[i]).toBeCloseTo(leftPower[i], 10);
        expect(even.rightPower[i]).toBeCloseTo(rightPower[i], 10);
        if (i - shift < 0 || i - shift >= left.length) expect(even.right[i]).toBe(right[i]);
        else if (!Number.isNaN(plain[i])) expect(Math.abs(even.right[i] - plain[i])).toBeLessThan(1e-6);
      }
    }),
  );
});

test('a right side of half the gain is wholly undone, at any delay', () => {
  for (const shift of [-40, 0, 7]) {
    const left = Float64Array.from({ length: 400 }, (_, i) => Math.sin(0.3 * i) * (1 + Math.sin(0.01 * i)));
    const right = left.map((_, i) => 0.5 * (left[i - shift] ?? 0));
    const into = (): Float64Array => new Float64Array(left.length);
    const even = evened(left, right, shift, 12, { right: into(), leftPower: into(), rightPower: into() });
    for (let i = 100; i < 300; i++) expect(even.right[i]).toBeCloseTo(left[i - shift], 6);
  }
});

test('values less the mean around them, twice, are those of the plain sums, also where fewer are there than a mean takes', () => {
  const values = fc.array(fc.double({ min: -1, max: 1, noNaN: true }), { minLength: 1, maxLength: 70 });
  fc.assert(
    fc.property(values, fc.integer({ min: 1, max: 30 }), (list, half) => {
      const plain = (some: number[]): number[] =>
        some.map((value, i) => {
          let sum = 0;
          for (let k = i - half; k <= i + half; k++) sum += some[Math.max(0, Math.min(some.length - 1, k))];
          return value - sum / (2 * half + 1);
        });
      const less = lessMeansTwice(Float64Array.from(list), half, new Float64Array(list.length));
      const twice = plain(plain(list));
      for (let i = 0; i < list.length; i++) expect(less[i]).toBeCloseTo(twice[i], 10);
    }),
  );
});
