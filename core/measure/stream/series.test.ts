import fc from 'fast-check';
import { Series } from './series.ts';

test('a series gives back what was put in, however long it grew, and lets it go', () => {
  fc.assert(
    fc.property(fc.array(fc.nat(2000), { maxLength: 6 }), (lengths) => {
      const series = new Series();
      const values = Float64Array.from({ length: lengths.reduce((sum, length) => sum + length, 0) }, (_, i) =>
        Math.sin(i),
      );
      // What is appended is only lent.
      const lent = new Float64Array(2000);
      let at = 0;
      for (const length of lengths) {
        lent.set(values.subarray(at, at + length));
        series.append(lent.subarray(0, length));
        at += length;
      }
      expect(series.toArray()).toEqual(values);
      expect(series.toArray()).toHaveLength(0);
    }),
    { numRuns: 30, examples: [[[]], [[0]], [[2000, 1, 0, 7]]] },
  );
});
