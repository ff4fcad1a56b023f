import fc from 'fast-check';
import { measure, readerOf } from '../../test/inspecting.ts';
import { delayed } from '../../synth/filters.ts';
import { mix, scale } from '../../synth/mono.ts';
import { chatter, noise } from '../../synth/noise.ts';
import { pairBySound } from './channelPairs.ts';
import { findDuplicates } from './duplicates.ts';

const SECONDS = 10;
const hiss = (seed: number): Float64Array => noise(0.0005, SECONDS, seed);
/** What two microphones in one room hear of one voice. */
function heardByTwo(seed: number): [Float64Array, Float64Array] {
  const said = chatter(0.1, SECONDS, seed);
  return [mix(said, hiss(seed + 100)), mix(scale(delayed(said, 37), 0.5), hiss(seed + 200))];
}

async function pairsOf(channels: Float64Array[]): Promise<[number, number][]> {
  const first = measure(channels);
  const some = async (wanted: number[]) => measure(wanted.map((channel) => channels[channel - 1]));
  const duplicates = await findDuplicates(first, readerOf(channels));
  return (await pairBySound({ ...first, duplicates }, readerOf(channels), some)).pairs.map(
    ({ channels: pair }) => pair,
  );
}

test('neighbours are pairs, and so are others that hear one voice while their neighbours hear another', async () => {
  const [a, b] = heardByTwo(1);
  const [c, d] = heardByTwo(2);
  expect(await pairsOf([a, b, c, d])).toEqual([
    [1, 2],
    [3, 4],
  ]);
  expect(await pairsOf([a, c, b, d])).toEqual([
    [1, 2],
    [3, 4],
    [1, 3],
    [2, 4],
  ]);
});

test('what is measured of a pair that was found is of its own channels, in order', async () => {
  const [a, b] = heardByTwo(3);
  const channels = [a, chatter(0.1, SECONDS, 8), b, chatter(0.1, SECONDS, 9)];
  const first = measure(channels);
  const some = async (wanted: number[]) => measure(wanted.map((channel) => channels[channel - 1]));
  const found = (await pairBySound(first, readerOf(channels), some)).pairs.find(
    ({ channels: [left, right] }) => left === 1 && right === 3,
  )!;
  expect(found.squares).toEqual(
    [first.channels[0], first.channels[2]].map(({ meanSquare }) => expect.closeTo(meanSquare * first.frames, 6)),
  );
});

test('copies at any level are grouped, and are no pair besides', async () => {
  const [a, b] = heardByTwo(4);
  const gain = fc.double({ min: 0.05, max: 4, noNaN: true });
  await fc.assert(
    fc.asyncProperty(gain, gain, fc.boolean(), async (one, other, turned) => {
      const channels = [a, b, scale(a, turned ? -one : one), scale(b, other)];
      expect(await findDuplicates(measure(channels), readerOf(channels))).toEqual([
        [1, 3],
        [2, 4],
      ]);
      expect(await pairsOf(channels)).toEqual([
        [1, 2],
        [3, 4],
      ]);
    }),
    { numRuns: 4 },
  );
});

test('silence, another voice and the same voice with noise of its own are no copies', async () => {
  const said = chatter(0.1, SECONDS, 5);
  const channels = [
    mix(said, hiss(1)),
    new Float64Array(said.length),
    mix(said, noise(0.01, SECONDS, 2)),
    chatter(0.1, SECONDS, 6),
  ];
  expect(await findDuplicates(measure(channels), readerOf(channels))).toEqual([]);
});
