import { sine } from '../../synth/tones.ts';
import { LiveMeter } from './liveMeter.ts';

const RATE = 48000;
const tone = (amplitude: number, seconds = 2): Float32Array => Float32Array.from(sine(1000, amplitude, seconds));

function reading(left: Float32Array, right: Float32Array): ReturnType<LiveMeter['read']> {
  const meter = new LiveMeter(RATE);
  meter.push([left, right], left.length);
  return meter.read();
}

test('correlation is 1 for equal sides, −1 for a side turned over, 0 a quarter of a period apart and 0 where a side is empty', () => {
  const [a, quieter] = [tone(0.5), tone(0.1)];
  expect(reading(a, quieter).correlation).toBeCloseTo(1, 5);
  expect(
    reading(
      a,
      quieter.map((x) => -x),
    ).correlation,
  ).toBeCloseTo(-1, 5);
  // 48 samples a period.
  expect(reading(a.subarray(12), a.subarray(0, a.length - 12)).correlation).toBeCloseTo(0, 3);
  expect(reading(a, new Float32Array(a.length)).correlation).toBe(0);
});

test('correlation forgets: after three tenths of a second the old weighs 1/e against the new', () => {
  const meter = new LiveMeter(RATE);
  const long = tone(0.5, 4);
  meter.push([long, long], long.length);
  const after = tone(0.5, 0.3);
  meter.push([after, after.map((x) => -x)], after.length);
  expect(meter.read().correlation).toBeCloseTo(2 / Math.E - 1, 2);
});

test('peaks and clipping are those since the last reading; two samples at full scale are no clipping, three are', () => {
  const meter = new LiveMeter(RATE);
  meter.push([Float32Array.of(0.2, -0.7, 0.1, 0), Float32Array.of(1, 1, 0.5, -1)], 4);
  expect(meter.read()).toMatchObject({ peaks: [expect.closeTo(0.7, 6), 1], clipped: [false, false] });
  // The run goes on over the reading.
  meter.push([Float32Array.of(0, 0), Float32Array.of(-1, -1)], 2);
  expect(meter.read()).toMatchObject({ peaks: [0, 1], clipped: [false, true] });
  expect(meter.read()).toMatchObject({ peaks: [0, 0], clipped: [false, false] });
});
