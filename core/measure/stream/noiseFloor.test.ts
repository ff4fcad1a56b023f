import fc from 'fast-check';
import { noiseFloorPower, percentile } from './noiseFloor.ts';

const powers = fc.array(fc.oneof(fc.double({ min: 0, max: 1, noNaN: true }), fc.constantFrom(0, 1e-13, 0.25)), {
  minLength: 1,
  maxLength: 2000,
});

test('a percentile is the number at its rank among the sorted ones, and asking changes nothing', () => {
  fc.assert(
    fc.property(powers, fc.double({ min: 0, max: 1, noNaN: true }), (list, share) => {
      const values = Float64Array.from(list);
      const sorted = Float64Array.from(list).sort();
      expect(percentile(values, share)).toBe(sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))]);
      expect(values).toEqual(Float64Array.from(list));
    }),
    { numRuns: 200 },
  );
  expect(percentile([], 0.5)).toBe(0);
});

test('digital silence has no part in the noise floor', () => {
  fc.assert(
    fc.property(powers, fc.nat(500), (list, zeros) => {
      expect(noiseFloorPower(Float64Array.from([...list, ...new Array<number>(zeros).fill(0)]))).toBe(
        noiseFloorPower(Float64Array.from(list)),
      );
    }),
    { numRuns: 100 },
  );
  expect(noiseFloorPower(new Float64Array(50))).toBe(0);
});
