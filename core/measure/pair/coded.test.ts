import { LEAST_CONFIDENCE } from '../../diagnose/boundaries.ts';
import { passFilter } from '../../signal/biquad.ts';
import { filtered, lowPassed, swaying } from '../../synth/filters.ts';
import { gain, mix, RATE, scale, type Mono } from '../../synth/mono.ts';
import { chatter, hiss, noise } from '../../synth/noise.ts';
import { inspect } from '../../test/inspecting.ts';

// A lossy coder lays noise of its own over each side, as far under it as its rate has room for, and none in the pauses: no null of anything is deep then.

const SECONDS = 8;
const voice = lowPassed(chatter(0.1, SECONDS, 4));

function coded(side: Mono, snrDb: number, seed: number): Mono {
  const random = lowPassed(noise(1, SECONDS, seed));
  const scaled = gain(random, -snrDb - 10 * Math.log10(random.reduce((sum, x) => sum + x * x, 0) / random.length));
  return mix(
    side.map((x, i) => x * (1 + scaled[i])),
    hiss(side.length, -80, seed + 1),
  );
}

const spread = (copy: Mono): Mono[] => [mix(voice, copy), mix(voice, scale(copy, -1))];
const sway = (baseMs: number, depthMs: number): Mono =>
  swaying(voice, (i) => (RATE / 1000) * (baseMs + depthMs * Math.sin((2 * Math.PI * 0.7 * i) / RATE)));
const later = (ms: number): Mono => voice.map((_, i) => voice[i - (RATE / 1000) * ms] ?? 0);

test.each([
  { what: 'a voice spread by its echo', sides: spread(gain(later(22), -2)), snrDb: 9, told: { echoSeconds: 0.022 } },
  {
    what: 'a voice spread by a copy that sways',
    sides: spread(gain(sway(14, 1.5), -1)),
    snrDb: 11,
    told: { sway: { kind: 'wide', whole: null } },
  },
  {
    what: 'a voice with a copy beside it that sways',
    sides: [voice, mix(voice, gain(sway(9, 1), -3))],
    snrDb: 15,
    told: { sway: { kind: 'beside', whole: 'left' } },
  },
])('$what is told under the noise of a coder, and left to a person', async ({ sides, snrDb, told }) => {
  const found = await inspect(sides.map((side, s) => coded(side, snrDb, 10 * s + 1)));
  const [pair] = found.pairs;
  expect(pair).toMatchObject({ verdict: 'fake-stereo', disguise: ['filter'], ...told });
  // That is deeper than nothing and no null.
  expect(pair.matchedNullDepthDb).toBeGreaterThan(-20);
  expect(pair.matchedNullDepthDb).toBeLessThan(pair.nullDepthDb! - 6);
  expect(pair.confidence).toBeLessThan(LEAST_CONFIDENCE);
  expect(found.suggestion.action).toBe('review');
});

// Of a coder's bits most go to where the voice is loud.
const treble = passFilter('high-pass', 900, Math.SQRT1_2, RATE);
const codedMore = (side: Mono, snrDb: number, seed: number): Mono => {
  const noisy = coded(side, snrDb, seed);
  const laid = noisy.map((x, i) => x - side[i]);
  return mix(side, gain(laid, -8), filtered(laid, treble));
};

test.each([
  { what: 'later than any microphone', delayMs: 14, snrDb: 10 },
  { what: 'as late as a microphone may', delayMs: 2.5, snrDb: 13 },
])('a copy $what is one signal under the noise of a coder, and left to a person', async ({ delayMs, snrDb }) => {
  const found = await inspect([codedMore(voice, snrDb, 1), codedMore(later(delayMs), snrDb, 11)]);
  const [pair] = found.pairs;
  expect(pair).toMatchObject({ verdict: 'fake-stereo', disguise: ['delay'] });
  expect(pair.delaySamples).toBeCloseTo((delayMs * RATE) / 1000, 0);
  expect(pair.matchedNullDepthDb).toBeGreaterThan(-20);
  expect(found.headline).toMatch(/^This may be one (voice|sound) dressed up as stereo\.$/);
  expect(pair.spoke[0].message).toContain('looks like the noise of a lossy coder, not like a room');
  expect(found.suggestion.action).toBe('review');
});

// The treble of each side made up by itself, and in one frame a scale factor of the voice's own part.
function withMadeUpTreble(side: Mono, amissDb: number, seed: number): Mono {
  const loudness = lowPassed(side.map(Math.abs));
  const steep = Array.from({ length: 5 }, () => passFilter('high-pass', 7000, Math.SQRT1_2, RATE));
  const own = steep.reduce((sound, section) => filtered(sound, section), noise(1, SECONDS, seed));
  const amiss = (i: number): number => (i > 3.2 * RATE && i < 3.5 * RATE ? 10 ** (amissDb / 20) : 0);
  return side.map((x, i) => x * (1 + (seed % 2) * amiss(i)) + 0.2 * loudness[i] * own[i]);
}

test.each([
  { what: 'made up', amissDb: -200 },
  { what: 'made up, and a moment of the rest amiss,', amissDb: -28 },
])('one signal whose treble is $what is one signal still', async ({ amissDb }) => {
  const found = await inspect([1, 2].map((seed) => withMadeUpTreble(voice, amissDb, seed)));
  const [pair] = found.pairs;
  expect(pair.nullDepthDb).toBeGreaterThan(-34);
  expect(pair.verdict).toBe('dual-mono');
  expect(found.suggestion.action).toBe('review');
});

test('a narrow mix differs below its treble as above', async () => {
  const players = lowPassed(chatter(0.1, SECONDS, 9));
  const narrow = [1, -1].map((sign) => mix(voice, scale(gain(players, -24), sign)));
  const found = await inspect(narrow.map((side, s) => withMadeUpTreble(side, -200, s)));
  expect(found.pairs[0].verdict).toBe('stereo');
});

test('what disagrees in all of the voice alike and follows it is a coder’s, and no room', async () => {
  const found = await inspect([coded(voice, 15, 1), coded(later(2.5), 15, 11)]);
  const [pair] = found.pairs;
  expect(pair).toMatchObject({ verdict: 'fake-stereo', disguise: ['delay'] });
  expect(pair.matchedNullDepthDb).toBeGreaterThan(-20);
  expect(found.suggestion.action).toBe('review');
});

test('as much that disagrees in all of the voice alike may be a room', async () => {
  const room = (seed: number): Mono => gain(lowPassed(chatter(0.1, SECONDS, seed)), -12);
  const found = await inspect([voice, mix(later(2.5), room(5))]);
  expect(found.verdict).not.toBe('fake-stereo');
});

test('a mix in which only the voice comes again beside others is none of it, and nothing of it is lost', async () => {
  const [left, right] = [2, 3].map((seed) => lowPassed(chatter(0.1, SECONDS, seed)));
  const [one, other] = spread(gain(later(22), -3));
  const found = await inspect([coded(mix(one, left), 12, 1), coded(mix(other, right), 12, 11)]);
  expect(found.verdict).not.toBe('fake-stereo');
  expect(found.pairs[0].echoSeconds).toBe(0);
  expect(['none', 'split', 'review']).toContain(found.suggestion.action);
});
