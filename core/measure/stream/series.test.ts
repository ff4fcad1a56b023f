import fc from 'fast-check';
import { Series } from './series.ts';

test('a series gives back what was put in, however long it grew, and lets it go', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 5000 }), (length) => {
      const series = new Series();
      const values = Float64Array.from({ length }, (_, i) => Math.sin(i));
      for (const value of values) series.push(value);
      expect(series.toArray()).toEqual(values);
      expect(series.toArray()).toHaveLength(0);
    }),
    { numRuns: 30, examples: [[0], [1023], [1024], [1025], [2048]] },
  );
});
