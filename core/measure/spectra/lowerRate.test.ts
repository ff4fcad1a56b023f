import { RATE } from '../../synth/mono.ts';
import { sine } from '../../synth/tones.ts';
import { SoundRoom } from '../soundRoom.ts';
import { LOWERING_MARGIN, lowerRate } from './lowerRate.ts';

function levelDb(sound: Float64Array): number {
  const inner = sound.subarray(LOWERING_MARGIN, sound.length - LOWERING_MARGIN);
  return 10 * Math.log10((2 * inner.reduce((sum, x) => sum + x * x, 0)) / inner.length);
}

test('what a voice has is kept to a few hundredths of a decibel, and nothing that would fold over', () => {
  for (const hz of [60, 1000, 6000, 9000]) expect(Math.abs(levelDb(lowerRate(sine(hz, 1, 0.5), 1)))).toBeLessThan(0.05);
  for (const hz of [12_100, 13_500, 15_000, 20_000, 23_500])
    expect(levelDb(lowerRate(sine(hz, 1, 0.5), 1))).toBeLessThan(-48);
});

test('sample i is at the old one 2 i, for each halving, in its own arrays or in a room', () => {
  const tone = sine(500, 0.8, 0.2);
  const quarter = lowerRate(tone, 2);
  const low = sine(500, 0.8, 0.2, RATE / 4);
  for (let i = LOWERING_MARGIN; i < quarter.length - LOWERING_MARGIN; i++) expect(quarter[i]).toBeCloseTo(low[i], 2);
  expect([...lowerRate(tone, 2, new SoundRoom())]).toEqual([...quarter]);
  expect(lowerRate(tone, 0)).toBe(tone);
});
