import fc from 'fast-check';
import { RateHalver } from './rateHalver.ts';
import { withEitherKernels } from '../test/eitherKernels.ts';

withEitherKernels(() => {
  test('every sample is the weighted sum of the one at its place and those around it, over pieces and beyond the ends', () => {
    const weights = Float64Array.of(0.5, 0.31, 0.07, -0.1, -0.02, 0.05, 0.01);
    const halver = new RateHalver(weights);
    fc.assert(
      fc.property(
        fc.oneof(fc.integer({ min: 0, max: 70 }), fc.integer({ min: 8180, max: 8400 })),
        fc.integer(),
        (length, seed) => {
          const source = new Float64Array(length).map((_, i) => Math.sin(seed + i * i));
          const at = (i: number): number => source[i] ?? 0;
          const plain = Array.from({ length: length >> 1 }, (_, i) =>
            weights.reduce((sum, weight, k) => sum + weight * (k === 0 ? at(2 * i) : at(2 * i - k) + at(2 * i + k)), 0),
          );
          const halved = halver.halved(source);
          expect(halved).toHaveLength(plain.length);
          expect(plain.reduce((most, value, i) => Math.max(most, Math.abs(halved[i] - value)), 0)).toBeLessThan(3e-7);
        },
      ),
      { numRuns: 60 },
    );
  });
});
