import fc from 'fast-check';
import { emptyEquations, type FilterExample } from './leastSquares.ts';
import { withEitherKernels } from '../test/eitherKernels.ts';

const TAPS = 16;
const values = (count: number): fc.Arbitrary<Float64Array> =>
  fc
    .array(fc.double({ min: -1, max: 1, noNaN: true }), { minLength: count, maxLength: count })
    .map((list) => Float64Array.from(list));
const exampleFor = (taps: number): fc.Arbitrary<FilterExample> =>
  fc
    .integer({ min: 40, max: 90 })
    .chain((length) => fc.record({ source: values(length + taps), target: values(length) }));

/** What the filter leaves of the target, by the plain sum. */
function leftOver(source: Float64Array, target: Float64Array, filter: Float64Array): Float64Array {
  return target.map((value, n) => value - filter.reduce((sum, tap, i) => sum + tap * source[n + i], 0));
}

withEitherKernels(() => {
  test.each([16, 48, 144])(
    'what the solved filter leaves is orthogonal to every tap’s input over all examples: nothing fits better (%i taps)',
    (taps) => {
      const example = exampleFor(taps);
      fc.assert(
        fc.property(fc.array(example, { minLength: 1, maxLength: 3 }), example, (examples, other) => {
          const equations = emptyEquations(taps, 90, examples.length);
          equations.add(examples);
          const energy = examples.reduce(
            (sum, { source }) => sum + source.reduce((squares, x) => squares + x * x, 0),
            0,
          );
          fc.pre(energy > 1);
          const { filter, explained } = equations.solve(1e-12);
          const left = examples.map(({ source, target }) => leftOver(source, target, filter));
          const size = Math.max(...filter.map(Math.abs), 1);
          for (let i = 0; i < taps; i++) {
            const product = examples.reduce(
              (sum, { source }, e) => sum + left[e].reduce((total, x, n) => total + x * source[n + i], 0),
              0,
            );
            expect(Math.abs(product)).toBeLessThan(1e-7 * size * energy);
          }
          const squares = examples.reduce((sum, { target }) => sum + target.reduce((total, x) => total + x * x, 0), 0);
          const residual = left.reduce((sum, one) => sum + one.reduce((total, x) => total + x * x, 0), 0);
          expect(Math.abs(squares - explained - residual)).toBeLessThan(1e-6 * size * size * energy);
          const plain = leftOver(other.source, other.target, filter).reduce((sum, x) => sum + x * x, 0);
          expect(equations.residualSquares(other.source, other.target)[0] / plain).toBeCloseTo(1, 8);
        }),
        { numRuns: 60 },
      );
    },
  );

  test('equations that are taken again know nothing of what was solved before: silence is foretold by nothing', () => {
    const before = emptyEquations(TAPS, 90, 1);
    before.add([
      {
        source: Float64Array.from({ length: 90 + TAPS }, (_, i) => Math.sin(i * i)),
        target: Float64Array.from({ length: 90 }, (_, i) => Math.cos(i * i)),
      },
    ]);
    expect(before.solve(1e-12).filter.some((tap) => tap !== 0)).toBe(true);
    const again = emptyEquations(TAPS, 60, 1);
    again.add([{ source: new Float64Array(60 + TAPS), target: new Float64Array(60).fill(1) }]);
    expect(again.solve(1e-12)).toEqual({ filter: new Float64Array(TAPS), explained: 0 });
    expect([...again.residualSquares(new Float64Array(60 + TAPS).fill(1), new Float64Array(60).fill(1))]).toEqual([60]);
  });
});
