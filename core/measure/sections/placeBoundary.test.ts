import fc from 'fast-check';
import { amplitudeFromDb } from '../../signal/decibels.ts';
import { readerOf } from '../../test/inspecting.ts';
import { delayed, lowPassed } from '../../synth/filters.ts';
import { mix, scale } from '../../synth/mono.ts';
import { chatter, noise } from '../../synth/noise.ts';
import { placeBoundary } from './placeBoundary.ts';

const RATE = 16000;
const SECONDS = 24;
const BLOCK_SECONDS = 0.1;
const DELAY = 9.4;
const hiss = (db: number, seed: number): Float64Array => noise(amplitudeFromDb(db), SECONDS, seed, RATE);
// The talk pauses for 0.8 s out of every three: a boundary may lie anywhere in or between.
const voice = mix(chatter(0.08, SECONDS, 1, RATE), hiss(-72, 11));
const other = mix(chatter(0.08, SECONDS, 2, RATE), hiss(-64, 12));

const KINDS = {
  'left alone': [voice, hiss(-68, 13)],
  'right alone': [new Float64Array(SECONDS * RATE), voice],
  'dual mono': [voice, voice],
  'dual mono with noise of its own': [mix(voice, hiss(-60, 14)), mix(voice, hiss(-60, 15))],
  'turned over': [voice, scale(voice, -1)],
  louder: [voice, scale(voice, 1.4)],
  late: [voice, delayed(voice, DELAY)],
  filtered: [voice, lowPassed(voice)],
  'two voices that bleed': [mix(voice, scale(delayed(other, 30), 0.4)), mix(other, scale(delayed(voice, 22), 0.3))],
};
type Kind = keyof typeof KINDS;
const kinds = Object.keys(KINDS) as Kind[];
const delayOf = (kind: Kind): number => (kind === 'late' ? DELAY : 0);

async function placed(
  from: Kind,
  to: Kind,
  second: number,
  unsure: [number, number],
  endSeconds = SECONDS,
): Promise<number | null> {
  const sides = KINDS[from].map((side, s) => side.map((x, i) => (i < second * RATE ? x : KINDS[to][s][i])));
  const read = readerOf(sides);
  const block = await placeBoundary(
    { startBlock: 0, endBlock: Math.round(unsure[0] / BLOCK_SECONDS), delaySamples: delayOf(from) },
    {
      startBlock: Math.round(unsure[1] / BLOCK_SECONDS),
      endBlock: Math.round(endSeconds / BLOCK_SECONDS),
      delaySamples: delayOf(to),
    },
    { sampleRate: RATE, blockSeconds: BLOCK_SECONDS },
    async (start, frames) => {
      const [left, right] = await read(start, frames, [1, 2]);
      return [left, right];
    },
  );
  return block === null ? null : block * BLOCK_SECONDS;
}

test('any kind of pair gives way to any other where it does, to 0.1 s, in a word or in a pause', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.constantFrom(...kinds),
      fc.constantFrom(...kinds),
      fc.double({ min: 8, max: 16, noNaN: true }),
      fc.double({ min: 0.5, max: 3, noNaN: true }),
      fc.double({ min: 0.5, max: 3, noNaN: true }),
      async (from, to, second, before, after) => {
        fc.pre(from !== to);
        const found = await placed(from, to, second, [second - before, second + after]);
        expect(Math.abs(found! - second)).toBeLessThan(0.1001);
      },
    ),
    { numRuns: 60, seed: 6 },
  );
});

test('where there is too little on either side to learn from, it says so', async () => {
  expect(await placed('dual mono', 'two voices that bleed', 12, [11, 13], 13.2)).toBeNull();
  expect(await placed('dual mono', 'two voices that bleed', 0.4, [0.2, 2])).toBeNull();
});
