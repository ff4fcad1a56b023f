import fc from 'fast-check';
import { amplitudeFromDb } from '../../signal/decibels.ts';
import { lowerRate } from '../spectra/lowerRate.ts';
import { measure, readerOf } from '../../test/inspecting.ts';
import { delayed, lowPassed } from '../../synth/filters.ts';
import { mix, scale } from '../../synth/mono.ts';
import { chatter, noise } from '../../synth/noise.ts';
import { sine } from '../../synth/tones.ts';
import type { PairMatch } from './pairMatch.ts';
import { lookAgain } from './lookAgain.ts';
import { fitShortFilter } from '../spectra/shortFilter.ts';

const SECONDS = 3;

async function match(left: Float64Array, right: Float64Array, sampleRate = 48000): Promise<PairMatch> {
  return (await lookAgain(measure([left, right], sampleRate), [1, 2], readerOf([left, right])))!;
}

test('polarity, gain and delay of a disguised signal are found to a hundredth of a sample, either way round', async () => {
  const voice = lowPassed(chatter(0.1, SECONDS, 1));
  await fc.assert(
    fc.asyncProperty(
      fc.double({ min: 20, max: 1900, noNaN: true }),
      fc.double({ min: -14, max: 14, noNaN: true }),
      fc.boolean(),
      fc.boolean(),
      async (delaySamples, gainDb, turned, swapped) => {
        const other = scale(delayed(voice, delaySamples), (turned ? -1 : 1) * amplitudeFromDb(gainDb));
        const found = swapped ? await match(other, voice) : await match(voice, other);
        const sign = swapped ? -1 : 1;
        expect(Math.abs(found.delaySamples * sign - delaySamples)).toBeLessThan(0.01);
        expect(found.gainDb * sign).toBeCloseTo(gainDb, 1);
        expect(found.polarity).toBe(turned ? -1 : 1);
        expect(found.matchedNullDb).toBeLessThan(-30);
      },
    ),
    { numRuns: 6 },
  );
});

test('a delay is told in samples of the clip’s own rate, also at rates that are halved for the second look', async () => {
  for (const rate of [16000, 96000, 192000]) {
    const voice = lowPassed(chatter(0.1, 2, 2, rate));
    expect((await match(voice, delayed(voice, 101), rate)).delaySamples).toBeCloseTo(101, 0);
  }
});

test('a filter on one side is undone; the plain null stays shallow', async () => {
  const voice = chatter(0.1, SECONDS, 3);
  const combed = voice.map((x, i) => x + 0.7 * (voice[i - 60] ?? 0) - 0.3 * (voice[i - 500] ?? 0));
  const found = await match(voice, combed);
  expect(found.plainNullDb).toBeGreaterThan(-12);
  expect(found.matchedNullDb).toBeLessThan(-40);
  // The comb is foretold from the dry side; the dry side from the comb only with a long inverse.
  expect(found.rightFromLeftDb).toBeLessThan(-35);
});

test('noise of their own does not hide one signal, as the pauses tell how much of it there is', async () => {
  const voice = chatter(0.1, SECONDS, 4);
  const noisy = [5, 6].map((seed) => mix(voice, noise(amplitudeFromDb(-55), SECONDS, seed)));
  const found = await match(noisy[0], noisy[1]);
  expect(found.plainNullDb).toBeLessThan(-42);
});

test('two voices have nothing that a filter could undo', async () => {
  const found = await match(chatter(0.1, SECONDS, 7), chatter(0.1, SECONDS, 8));
  expect(found.matchedNullDb).toBeGreaterThan(-3);
  expect(found.incoherent).toBeGreaterThan(0.9);
  expect(found.arrival.prominence).toBeLessThan(7.5);
});

test('the second look costs the same for a long clip, and gives the same numbers every time', async () => {
  const voice = chatter(0.1, 12, 9);
  const reads: number[] = [];
  const read = readerOf([voice, voice]);
  const measurement = measure([voice, voice]);
  const counting = (start: number, frames: number, channels: number[]) => {
    reads.push(frames);
    return read(start, frames, channels);
  };
  const [first, second] = [await lookAgain(measurement, [1, 2], counting), await lookAgain(measurement, [1, 2], read)];
  expect(second).toEqual(first);
  expect(reads.length).toBeLessThanOrEqual(30);
});

test('the least-squares filter is the one that was used, and nothing is left', () => {
  const sound = noise(0.3, 0.1, 10);
  const taps = [0.5, -0.25, 0.125, 1];
  const target = sound.subarray(0, 4000).map((_, n) => taps.reduce((sum, tap, i) => sum + tap * sound[n + i], 0));
  const fitted = fitShortFilter(
    [{ source: sound.slice(0, 4000 + 16), target }],
    [{ source: sound.slice(0, 516), target: target.slice(0, 500) }],
    16,
  );
  expect([...fitted.taps]).toEqual([...taps, ...Array<number>(12).fill(0)].map((tap) => expect.closeTo(tap, 6)));
  expect(fitted.residualPower).toBeLessThan(1e-8);
  expect(fitted.pauseResidualPower).toBeLessThan(1e-8);
});

test('halving the rate keeps what is below a quarter of it and drops what is above', () => {
  const level = (hz: number): number => {
    const halved = lowerRate(sine(hz, 1, 0.2), 1).subarray(100, 4000);
    return Math.sqrt((2 * halved.reduce((sum, x) => sum + x * x, 0)) / halved.length);
  };
  expect(level(1000)).toBeCloseTo(1, 2);
  expect(level(9000)).toBeCloseTo(1, 2);
  expect(level(16000)).toBeLessThan(0.01);
});
