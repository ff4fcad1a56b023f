import { passFilter } from '../../signal/biquad.ts';
import { delayed, filtered } from '../../synth/filters.ts';
import { gain, mix, RATE, type Mono } from '../../synth/mono.ts';
import { hiss, noise } from '../../synth/noise.ts';
import { CLEAR_ARRIVAL } from '../boundaries.ts';
import { ArrivalFinder, strongestArrival } from './arrival.ts';

// What a stretch that is cut out of a recording tells of where its sound comes from.

const LENGTH = Math.round(0.29 * RATE);
const finder = new ArrivalFinder(RATE, LENGTH, 2400);

/** Loud and low, as a voice close to its microphone or the rumble of a road, with little above 300 Hz. */
function low(seed: number, seconds = 1): Mono {
  const cut = passFilter('low-pass', 200, Math.SQRT1_2, RATE);
  return gain(
    [0, 1, 2].reduce((sound) => filtered(sound, cut), noise(1, seconds, seed)),
    -6,
  );
}

function arrivalOf(left: Mono, right: Mono) {
  const [l, r] = [left, right].map((side) => side.subarray(RATE >> 2, (RATE >> 2) + LENGTH));
  return strongestArrival(finder.correlate([[l, r]])[0]);
}

test('two sounds of which neither is heard on both sides have no arrival, however low and loud they are', () => {
  for (let seed = 1; seed <= 12; seed++) {
    const sides = [seed, 100 + seed].map((s) => mix(low(s), hiss(RATE, -80, 200 + s)));
    expect(arrivalOf(sides[0], sides[1]).prominence).toBeLessThan(CLEAR_ARRIVAL);
  }
});

test('nor has one side that stands off nought beside one that hums', () => {
  const hum = Float64Array.from({ length: RATE }, (_, i) => 0.02 * Math.sin((2 * Math.PI * 50 * i) / RATE + 1));
  const offset = new Float64Array(RATE).fill(0.02);
  const arrival = arrivalOf(mix(hum, hiss(RATE, -90, 1)), mix(offset, hiss(RATE, -90, 2)));
  expect(arrival.prominence).toBeLessThan(CLEAR_ARRIVAL);
});

test.each([0, 3.25, -17.6, 140.5])(
  'a soft sound of %d samples between is told under lows that the sides do not share',
  (samples) => {
    const heard = hiss(RATE, -60, 5);
    const left = mix(heard, low(6));
    const right = mix(delayed(heard, Math.max(0, samples)), low(7));
    const earlier = samples < 0 ? mix(delayed(heard, -samples), low(6)) : left;
    const arrival = arrivalOf(earlier, right);
    expect(arrival.prominence).toBeGreaterThan(2 * CLEAR_ARRIVAL);
    expect(Math.abs(arrival.delaySamples - samples)).toBeLessThan(0.2);
  },
);

test('finders of one size and other lengths do not disturb each other', () => {
  const sides = [noise(0.1, 1, 1), noise(0.1, 1, 2)].map((side) => side.subarray(0, LENGTH));
  const before = finder.correlate([[sides[0], sides[1]]])[0].values.slice();
  const shorter = new ArrivalFinder(RATE, LENGTH - 1000, 2400);
  shorter.correlate([[sides[1].subarray(1000), sides[0].subarray(1000)]]);
  expect(finder.correlate([[sides[0], sides[1]]])[0].values).toEqual(before);
});
