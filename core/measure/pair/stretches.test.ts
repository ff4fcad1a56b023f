import fc from 'fast-check';
import { measure } from '../../test/inspecting.ts';
import { mix, scale } from '../../synth/mono.ts';
import { chatter, noise } from '../../synth/noise.ts';
import { chooseStretches, type StretchRange } from './stretches.ts';

const SECONDS = 40;
const voices = [
  mix(chatter(0.1, SECONDS, 1), noise(0.0002, SECONDS, 2)),
  mix(chatter(0.05, SECONDS, 3), noise(0.0001, SECONDS, 4)),
];

function rangeOf(frames: number, changes: Partial<StretchRange> = {}): StretchRange {
  return {
    sampleRate: 48000,
    blockSeconds: 0.1,
    startBlock: 0,
    endBlock: Math.ceil(frames / 4800),
    frames,
    mostActive: 24,
    ...changes,
  };
}

function choose(sides: Float64Array[], changes: Partial<StretchRange> = {}) {
  const {
    channels: [left, right],
  } = measure(sides);
  return chooseStretches([left, right], rangeOf(sides[0].length, changes));
}

/** Root mean square of one side in each stretch. */
function levels(sound: Float64Array, stretches: { startFrame: number; frames: number }[]): number[] {
  return stretches.map(({ startFrame, frames }) =>
    Math.sqrt(sound.subarray(startFrame, startFrame + frames).reduce((sum, x) => sum + x * x, 0) / frames),
  );
}

const {
  channels: [left, right],
} = measure(voices);

test('within any range there is at most one stretch in each of so many equal parts, and none reaches over an end', () => {
  const range = fc.tuple(fc.nat(380), fc.integer({ min: 1, max: 400 }), fc.integer({ min: 1, max: 24 }));
  fc.assert(
    fc.property(range, ([from, length, mostActive]) => {
      const to = Math.min(400, from + length);
      const { active, pauses } = chooseStretches(
        [left, right],
        rangeOf(voices[0].length, { startBlock: from, endBlock: to, mostActive }),
      );
      expect(active.length).toBeLessThanOrEqual(mostActive);
      expect(pauses.length).toBeLessThanOrEqual(6);
      for (const found of [active, pauses]) {
        const starts = found.map(({ startFrame }) => startFrame / 4800);
        expect(starts).toEqual([...new Set(starts)].sort((a, b) => a - b));
        for (const [i, start] of starts.entries()) {
          expect(start).toBeGreaterThanOrEqual(from);
          expect(start).toBeLessThan(to);
          expect(found[i].startFrame + found[i].frames).toBeLessThanOrEqual(voices[0].length);
        }
      }
    }),
    { numRuns: 200 },
  );
});

test('something is heard in every active stretch, and nothing in the pauses', () => {
  const { active, pauses } = choose(voices);
  expect(active).toHaveLength(24);
  expect(pauses.length).toBeGreaterThanOrEqual(4);
  expect(Math.min(...levels(voices[0], active))).toBeGreaterThan(0.01);
  expect(Math.max(...levels(voices[0], pauses))).toBeLessThan(0.0003);
  expect(Math.max(...levels(voices[1], pauses))).toBeLessThan(0.0002);
});

test('the same stretches are chosen at any level of either side', () => {
  const wanted = choose(voices);
  fc.assert(
    fc.property(fc.double({ min: 0.2, max: 5, noNaN: true }), fc.double({ min: 0.2, max: 5, noNaN: true }), (a, b) => {
      expect(choose([scale(voices[0], a), scale(voices[1], b)])).toEqual(wanted);
    }),
    { numRuns: 4 },
  );
});

test('who speaks on one side only now and then is looked at too', () => {
  const seldom = noise(0.0001, SECONDS, 5);
  const said = chatter(0.02, 4, 6);
  seldom.set(
    said.map((x, i) => x + seldom[i]),
    20 * 48000,
  );
  const { active } = choose([voices[0], seldom]);
  expect(
    active.filter(({ startFrame }) => startFrame >= 20 * 48000 && startFrame < 24 * 48000).length,
  ).toBeGreaterThanOrEqual(2);
  expect(Math.max(...levels(seldom, active))).toBeGreaterThan(0.005);
});

test('steady sound has stretches all over and no pauses', () => {
  const { active, pauses } = choose([noise(0.05, SECONDS, 8), noise(0.05, SECONDS, 9)]);
  expect(active).toHaveLength(24);
  expect(pauses).toEqual([]);
});

test('of a clip that was looped other moments are taken in each part, not the loudest again and again', () => {
  // Cut into blocks elsewhere in each turn, as a loop's length is no multiple of a block.
  const turn = Math.round(9.77 * 48000);
  const looped = voices.map((voice) => Float64Array.from({ length: 12 * turn }, (_, i) => voice[i % turn]));
  const { active } = choose(looped);
  expect(active).toHaveLength(24);
  const inTurn = active.map(({ startFrame }) => startFrame % turn).sort((a, b) => a - b);
  const others = inTurn.filter((at, i) => i === 0 || at - inTurn[i - 1] > 0.15 * 48000);
  expect(others.length).toBeGreaterThanOrEqual(16);
});
