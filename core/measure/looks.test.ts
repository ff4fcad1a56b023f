import { measure, readerOf } from '../test/inspecting.ts';
import { chatter, noise } from '../synth/noise.ts';
import { mix } from '../synth/mono.ts';
import { takeLook, type Elsewhere, type Look } from './looks.ts';
import { lookTwice } from './secondLook.ts';

const RATE = 16_000;
const SECONDS = 45;

/** One voice on both sides, but for the middle, in which two people speak. */
function changing(): [Float64Array, Float64Array] {
  const left = mix(chatter(0.1, SECONDS, 1, RATE), noise(0.0004, SECONDS, 2, RATE));
  const other = mix(chatter(0.08, SECONDS, 3, RATE), noise(0.0003, SECONDS, 4, RATE));
  return [left, left.map((x, i) => (i > 15 * RATE && i < 30 * RATE ? other[i] : 0.5 * x))];
}

const sides = changing();
const firstLook = measure(sides, RATE);
const read = readerOf(sides);
const nobodyElse = (): never => {
  throw new Error('Two channels are one pair.');
};
const alone = lookTwice(firstLook, read, nobodyElse);

function another(take: Elsewhere['take']): { elsewhere: Elsewhere; taken: Look[] } {
  const taken: Look[] = [];
  const elsewhere: Elsewhere = {
    take: (look, about) => {
      taken.push(look);
      // As between threads: what goes there is a copy.
      return take(structuredClone(look), structuredClone({ ...about, pairs: [] }));
    },
    turn: () =>
      new Promise((resolve) => {
        setImmediate(resolve);
      }),
  };
  return { elsewhere, taken };
}

test('what another takes of the looks is found as if one had taken all', async () => {
  const { elsewhere, taken } = another(async (look, about) => structuredClone(await takeLook(look, about, read)));
  const shared = await lookTwice(firstLook, read, nobodyElse, elsewhere);
  expect(shared.pairs[0].segments.length).toBeGreaterThanOrEqual(3);
  expect(shared).toEqual(await alone);
  expect(new Set(taken.map(({ kind }) => kind))).toEqual(new Set(['channel', 'match', 'boundary']));
});

test('what another cannot do is done here', async () => {
  const { elsewhere, taken } = another(async () => {
    throw new Error('gone');
  });
  expect(await lookTwice(firstLook, read, nobodyElse, elsewhere)).toEqual(await alone);
  expect(taken.length).toBeGreaterThan(0);
});

test('a look that nobody can take is an error, and hangs nowhere', async () => {
  const unreadable = async (): Promise<never> => {
    throw new Error('the disk is gone');
  };
  const { elsewhere } = another((look, about) => takeLook(look, about, unreadable));
  await expect(lookTwice(firstLook, unreadable, nobodyElse, elsewhere)).rejects.toThrow('the disk is gone');
});
