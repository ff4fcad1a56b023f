import fc from 'fast-check';
import { noise } from '../../synth/noise.ts';
import { SoundRoom } from '../soundRoom.ts';
import { aboveRumble } from './aboveRumble.ts';

const RATE = 24_000;
const rms = (sound: Float64Array): number => Math.sqrt(sound.reduce((sum, x) => sum + x * x, 0) / sound.length);

/** What two passes leave of a sine: one less Dirichlet's kernel, squared. */
function leftOf(hz: number, rate: number): number {
  const length = 2 * Math.round(rate / 200) + 1;
  const mean = Math.sin((Math.PI * hz * length) / rate) / (length * Math.sin((Math.PI * hz) / rate));
  return (1 - mean) ** 2;
}

test.each([
  [5, RATE],
  [15, RATE],
  [50, RATE],
  [120, RATE],
  [1000, RATE],
  [15, 11_025],
  [120, 22_050],
])('of %d Hz at %d Hz as much is left as two means over a hundredth of a second leave', (hz, rate) => {
  const sine = Float64Array.from({ length: rate }, (_, i) => Math.sin((2 * Math.PI * hz * i) / rate));
  const inside = aboveRumble(sine, rate).subarray(rate / 20, rate - rate / 20);
  expect(Math.abs(rms(inside) * Math.SQRT2 - leftOf(hz, rate))).toBeLessThan(0.01);
});

test('15 Hz is taken off by 50 dB and more, a voice by a decibel or two at most', () => {
  expect(leftOf(15, RATE)).toBeLessThan(10 ** (-50 / 20));
  for (const hz of [100, 130, 200, 400, 3000]) expect(Math.abs(20 * Math.log10(leftOf(hz, RATE)))).toBeLessThan(3.5);
});

test('what stands off nought is gone to the very ends, and sound of any length stays as long', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 2000 }), fc.double({ min: -1, max: 1, noNaN: true }), (length, offset) => {
      const sound = aboveRumble(new Float64Array(length).fill(offset), RATE);
      expect(sound).toHaveLength(length);
      expect(Math.max(...sound.map(Math.abs))).toBeLessThan(1e-12);
    }),
  );
});

test('it is one filter for all: of a sum the sum, in an array of its own or in a room, and the sound itself stays', () => {
  const [one, other] = [noise(0.1, 0.3, 1, RATE), noise(0.1, 0.3, 2, RATE)];
  const before = one.slice();
  const both = one.map((x, i) => x + 0.5 * other[i]);
  const [a, b, c] = [one, other, both].map((sound) => aboveRumble(sound, RATE));
  for (let i = 0; i < c.length; i++) expect(Math.abs(c[i] - a[i] - 0.5 * b[i])).toBeLessThan(1e-12);
  expect(aboveRumble(one, RATE, new SoundRoom())).toEqual(a);
  expect(one).toEqual(before);
});
