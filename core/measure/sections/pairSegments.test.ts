import fc from 'fast-check';
import { amplitudeFromDb } from '../../signal/decibels.ts';
import { measure } from '../../test/inspecting.ts';
import { mix, scale } from '../../synth/mono.ts';
import { chatter, noise } from '../../synth/noise.ts';
import { pairSegments } from './pairSegments.ts';
import type { PairState } from './pairState.ts';

const RATE = 8000;
const SECONDS = 24;
const talk = (seed: number): Float64Array => chatter(0.08, SECONDS, seed, RATE);
const hiss = (db: number, seed: number): Float64Array => noise(amplitudeFromDb(db), SECONDS, seed, RATE);

/** One pair until a second, another from there on. */
function joined(before: Float64Array[], after: Float64Array[], second: number): Float64Array[] {
  return before.map((side, c) => side.map((x, i) => (i < second * RATE ? x : after[c][i])));
}

function statesOf(sides: Float64Array[]): { states: PairState[]; changes: [number, number][] } {
  const {
    channels: [left, right],
    pairs: [pair],
    blockSeconds,
  } = measure(sides, RATE);
  const segments = pairSegments([left, right], pair, blockSeconds);
  return {
    states: segments.map(({ state }) => state),
    changes: segments
      .slice(1)
      .map(({ begins: [earliest, latest] }) => [earliest * blockSeconds, latest * blockSeconds]),
  };
}

const VOICE = talk(1);
const KINDS: Record<'left-only' | 'same' | 'scaled' | 'inverted' | 'different', Float64Array[]> = {
  'left-only': [mix(VOICE, hiss(-70, 11)), hiss(-64, 12)],
  same: [mix(VOICE, hiss(-70, 11)), mix(VOICE, hiss(-70, 11))],
  scaled: [mix(VOICE, hiss(-70, 11)), scale(mix(VOICE, hiss(-70, 11)), 0.5)],
  inverted: [mix(VOICE, hiss(-70, 11)), scale(mix(VOICE, hiss(-70, 11)), -1)],
  different: [mix(VOICE, hiss(-70, 11)), mix(talk(2), hiss(-60, 13))],
};
type Kind = keyof typeof KINDS;
const kinds = Object.keys(KINDS) as Kind[];

test('what does not change is one segment, whatever it is', () => {
  for (const kind of kinds) expect(statesOf(KINDS[kind])).toEqual({ states: [kind], changes: [] });
});

test('a change from anything to anything else is found; it may lie in the pause that it is in, or within 0.2 s', () => {
  // The talk pauses for 0.8 s out of every three: a change may lie anywhere in or between.
  fc.assert(
    fc.property(
      fc.constantFrom(...kinds),
      fc.constantFrom(...kinds),
      fc.double({ min: 6, max: 18, noNaN: true }),
      (from, to, second) => {
        fc.pre(from !== to);
        const {
          states,
          changes: [[earliest, latest]],
        } = statesOf(joined(KINDS[from], KINDS[to], second));
        expect(states).toEqual([from, to]);
        expect(earliest - 0.2001).toBeLessThan(second);
        expect(latest + 0.2001).toBeGreaterThan(second);
        expect(latest - earliest).toBeLessThan(0.9001);
      },
    ),
    { numRuns: 40, seed: 4 },
  );
});

test('sides that take turns being alone are one pair of microphones, gated or not', () => {
  const inTurn = (turn: number, seed: number, floor: Float64Array): Float64Array =>
    talk(seed).map((x, i) => (Math.floor(i / (4 * RATE)) % 2 === turn ? x : 0) + floor[i]);
  const none = new Float64Array(SECONDS * RATE);
  expect(statesOf([inTurn(0, 1, none), inTurn(1, 2, none)]).states).toEqual(['in-turn']);
  expect(statesOf([inTurn(0, 1, hiss(-70, 3)), inTurn(1, 2, hiss(-70, 4))]).states).toEqual(['in-turn']);
});

test('a talk in which one is alone on each side by turns is one, however short the turns are', () => {
  const inTurn = (turn: number, seed: number): Float64Array =>
    talk(seed).map((x, i) => (Math.floor(i / (1.1 * RATE)) % 2 === turn ? x : 0));
  expect(statesOf([inTurn(0, 1), inTurn(1, 2)]).states).toEqual(['in-turn']);
});

test('what lasts for less than a second is no segment', () => {
  const [left, right] = KINDS.same;
  const blip = right.map((x, i) => (i >= 9.0 * RATE && i < 9.6 * RATE ? -x : x));
  expect(statesOf([left, blip]).states).toEqual(['same']);
});

test('two that sound by turns of a word each, and at once, are two from the moment at which a tone on both sides ends', () => {
  const words = (seed: number, on: number, off: number): Float64Array =>
    noise(0.08, SECONDS, seed, RATE).map((x, i) => ((i / RATE) % (on + off) < on ? x : 0));
  const tone = Float64Array.from({ length: SECONDS * RATE }, (_, i) => 0.1 * Math.sin((2 * Math.PI * 1000 * i) / RATE));
  const both = [mix(tone, hiss(-75, 14)), mix(tone, hiss(-75, 15))];
  const talkers = [mix(words(21, 0.3, 0.25), hiss(-75, 14)), mix(words(22, 0.3, 0.5), hiss(-75, 15))];
  const { states, changes } = statesOf(joined(both, talkers, 6));
  expect(states[0]).toBe('same');
  expect(states.slice(1)).toEqual([expect.stringMatching(/^(different|in-turn)$/)]);
  expect(changes[0][0]).toBeLessThanOrEqual(6);
});
