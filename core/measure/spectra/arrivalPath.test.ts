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
