import { slowlyShifted } from './slowShift.ts';

const RATE = 48_000;
const wave = (hz: number, at: (i: number) => number): Float64Array =>
  new Float64Array(9000).map((_, i) => Math.sin((2 * Math.PI * hz * at(i)) / RATE));

test.each([200, 3000, 15_000])('a sine of %i Hz read by a slower clock is the sine of that time', (hz) => {
  for (const [start, slope] of [
    [-0.4, 80e-6],
    [0.5, -100e-6],
    [0, 0],
  ]) {
    const ahead = (i: number): number => start + slope * i;
    const found = slowlyShifted(
      wave(hz, (i) => i),
      ahead,
    );
    const truth = wave(hz, (i) => i + ahead(i));
    let largest = 0;
    for (let i = 64; i < truth.length - 64; i++) largest = Math.max(largest, Math.abs(found[i] - truth[i]));
    // Half a step of a thousandth of a sample, and what the clock moves while one set of taps serves.
    expect(largest).toBeLessThan(slope === 0 ? 1e-12 : ((2 * Math.PI * hz) / RATE) * 0.0025 + 1e-4);
  }
});
