import { delayed } from '../../synth/filters.ts';
import { gain, mix, RATE, scale, type Mono } from '../../synth/mono.ts';
import { chatter, hiss } from '../../synth/noise.ts';
import { inspect } from '../../test/inspecting.ts';
import { factorBetweenCuts, giveBackPeaks, sumsBetweenCuts } from './clippedPeaks.ts';

const SECONDS = 6;
const frames = SECONDS * RATE;
const cutOff = (sound: Mono): Mono => sound.map((x) => Math.max(-1, Math.min(1, x))) as Mono;
const voice = chatter(0.2, SECONDS, 4);

test.each([
  { overDb: 7, softerDb: -12, late: 0, turned: 1 },
  { overDb: 10, softerDb: -18, late: 0, turned: 1 },
  { overDb: 10, softerDb: -12, late: 37, turned: -1 },
])(
  'one voice at full scale, $overDb dB over, and softer by $softerDb dB: one signal, of which the whole one is kept',
  async ({ overDb, softerDb, late, turned }) => {
    const loud = scale(voice, 10 ** (overDb / 20) * 1.1);
    const softer = delayed(gain(loud, softerDb), late).map((x) => turned * x) as Mono;
    const sides = [cutOff(mix(loud, hiss(frames, -76, 1))), mix(softer, hiss(frames, -80, 2))];
    for (const turnedRound of [false, true]) {
      const found = await inspect(turnedRound ? [...sides].reverse() : sides);
      const [pair] = found.pairs;
      expect(found.channels[turnedRound ? 1 : 0].clippedSamples).toBeGreaterThan(30);
      expect(pair.verdict).toBe('fake-stereo');
      expect(pair.gainDb).toBeCloseTo(turnedRound ? -softerDb : softerDb, 1);
      expect(pair.delaySamples).toBeCloseTo(turnedRound ? -late : late, 1);
      expect(pair.polarity).toBe(turned > 0 ? 'normal' : 'inverted');
      expect(found.detail).toContain(`The ${turnedRound ? 'right' : 'left'} one is cut off at full scale`);
      const whole = turnedRound ? 1 : 2;
      expect(found.suggestion).toMatchObject({ action: 'select', from: whole, to: [whole] });
      expect(found.suggestion.reason).toContain('has the peaks whole that are cut off on the other');
    }
  },
);

test('two talkers at two microphones, one of them cut off, stay two', async () => {
  const other = chatter(0.05, SECONDS, 9);
  const found = await inspect([
    cutOff(mix(scale(voice, 4), delayed(gain(other, -14), 40))),
    mix(other, delayed(gain(voice, -14), 40), hiss(frames, -70, 3)),
  ]);
  expect(found.channels[0].clippedSamples).toBeGreaterThan(30);
  expect(['dual-mono', 'fake-stereo']).not.toContain(found.verdict);
});

test('among many channels the softer copy is kept of a signal whose peaks are cut off', async () => {
  const other = gain(chatter(0.1, SECONDS, 9), -3);
  const loud = scale(voice, 3);
  const found = await inspect([cutOff(loud), gain(loud, -14), other]);
  expect(found.duplicates).toEqual([[1, 2]]);
  expect(found.detail).toContain('Channel 1 is a copy of channel 2.');
  expect(found.suggestion).toMatchObject({ action: 'split', to: [2, 3] });
});

test('what neither side has cut off tells the factor; peaks are given back to the sample', () => {
  const loud = scale(voice, 4);
  const softer = delayed(scale(loud, -0.25), 12);
  const sides = { left: cutOff(loud), right: softer.slice() };
  const factor = factorBetweenCuts([sumsBetweenCuts(sides, 12, [0.98, Infinity])])!;
  expect(factor).toBeCloseTo(-0.25, 9);
  giveBackPeaks(sides, 12, [0.98, Infinity], factor);
  const off = sides.left.subarray(0, frames - 12).map((x, i) => Math.abs(x - loud[i]));
  expect(off.reduce((a, b) => Math.max(a, b))).toBeLessThan(1e-9);
  expect(sides.right).toEqual(softer);
  const strangers = { left: loud, right: chatter(0.2, SECONDS, 8) };
  expect(factorBetweenCuts([sumsBetweenCuts(strangers, 0, [0.98, Infinity])])).toBeNull();
});
