import fc from 'fast-check';
import { arrivalPath } from './arrivalPath.ts';

const REACH = 60;

/** Agreement of so much at one lag, and of less by chance elsewhere. */
const curve = (lag: number, height: number, chance = 0.1) => ({
  reach: REACH,
  values: Float64Array.from({ length: 2 * REACH + 1 }, (_, i) =>
    i === REACH + lag ? height : chance * Math.sin(i * i + lag),
  ),
});

test('a path that moves slowly is followed through a place where something else agrees more', () => {
  const lags = [20, 22, 24, 25, 26, 26, 25, 23];
  const curves = lags.map((lag) => curve(lag, 0.6));
  curves[3].values[REACH + 50] = 0.9;
  const limits = { least: 5, most: 55, fastest: 3 };
  expect(arrivalPath(curves, limits)).toEqual({ delays: lags, height: expect.closeTo(0.6, 9) });
  // Upside down all along is one path; now one and now the other is none.
  const turned = curves.map(({ reach, values }) => ({ reach, values: values.map((x) => -x) }));
  expect(arrivalPath(turned, limits).delays).toEqual(lags);
  const mixed = curves.map((one, i) => (i % 2 === 0 ? one : turned[i]));
  expect(arrivalPath(mixed, limits).height).toBeLessThan(0.4);
});

test('nothing nearer, further or faster than the limits is a path', () => {
  const jumping = [10, 40, 10, 40].map((lag) => curve(lag, 0.8));
  const { delays, height } = arrivalPath(jumping, { least: 12, most: 38, fastest: 4 });
  expect(height).toBeLessThan(0.2);
  delays.forEach((lag, i) => {
    expect(lag).toBeGreaterThanOrEqual(12);
    expect(lag).toBeLessThanOrEqual(38);
    if (i > 0) expect(Math.abs(lag - delays[i - 1])).toBeLessThanOrEqual(4);
  });
});

test('of all paths there are it is the highest', () => {
  const width = 5;
  const rows = fc.array(fc.array(fc.integer({ min: -9, max: 9 }), { minLength: width, maxLength: width }), {
    minLength: 1,
    maxLength: 5,
  });
  fc.assert(
    fc.property(rows, fc.integer({ min: 0, max: 4 }), (curves, fastest) => {
      const pathsFrom = (row: number, before: number | null): number[][] =>
        row === curves.length
          ? [[]]
          : [...curves[row].keys()]
              .filter((lag) => before === null || Math.abs(lag - before) <= fastest)
              .flatMap((lag) => pathsFrom(row + 1, lag).map((rest) => [lag, ...rest]));
      const highest = (sign: number): number =>
        curves.reduce((sum, row) => sum + Math.max(0, ...row.map((x) => sign * x)), 0);
      const sign = highest(1) >= highest(-1) ? 1 : -1;
      const along = (path: number[]): number => path.reduce((sum, lag, row) => sum + sign * curves[row][lag], 0);
      const { delays, height } = arrivalPath(
        // Lags from -6 on: those outside of the limits come higher, and are not to be looked at.
        curves.map((row) => ({
          reach: 6,
          values: Float64Array.from({ length: 13 }, (_, i) => (i >= 7 && i < 7 + width ? row[i - 7] : 99)),
        })),
        { least: 1, most: width, fastest },
      );
      const path = delays.map((lag) => lag - 1);
      path.slice(1).forEach((lag, i) => expect(Math.abs(lag - path[i])).toBeLessThanOrEqual(fastest));
      const best = Math.max(...pathsFrom(0, null).map(along));
      expect(along(path)).toBe(best);
      expect(height).toBeCloseTo(best / curves.length, 12);
    }),
  );
});
