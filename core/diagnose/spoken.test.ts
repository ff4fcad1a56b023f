import { delayed } from '../synth/filters.ts';
import { mix, scale } from '../synth/mono.ts';
import { chatter, noise } from '../synth/noise.ts';
import { inspect } from '../test/inspecting.ts';

const SECONDS = 8;
const voice = chatter(0.1, SECONDS, 1);
const other = chatter(0.1, SECONDS, 2);
const noises = [noise(0.0002, SECONDS, 3), noise(0.0002, SECONDS, 4)];

// The verdict, what is on the sides, and what the strongest that spoke must name.
const CLIPS: [string, Float64Array[], RegExp][] = [
  [
    'one-sided',
    [mix(voice, noises[0]), mix(scale(voice, 0.01), noises[1])],
    /lies (39|40|41) dB under that of the left/,
  ],
  ['one-sided', [noises[1], mix(voice, noises[0])], /^The left side carries no programme/],
  ['dual-mono', [mix(voice, noises[0]), mix(voice, noises[1])], /left minus right lies \d\d dB under left plus right/],
  [
    'fake-stereo',
    [mix(voice, noises[0]), mix(delayed(voice, 130), noises[1])],
    /undone the difference lies \d\d dB under/,
  ],
  ['two-mics', [mix(voice, noises[0]), mix(other, noises[1])], /the other foretells \d+ %/],
];

test.each(CLIPS)(
  'what spoke for %s is told, with what was measured and where it begins',
  async (verdict, sides, says) => {
    const found = await inspect(sides);
    const [{ spoke }] = found.pairs;
    expect(found.verdict).toBe(verdict);
    expect(spoke[0]).toMatchObject({ says: verdict, message: expect.stringMatching(says) as string });
    expect(spoke[0].strength).toBeGreaterThanOrEqual(1);
  },
);

test('of one sound field nothing speaks for anything else, and what came nearest stands first', async () => {
  // A talker half a metre nearer to one of two alike microphones.
  const left = mix(voice, scale(delayed(other, 700), 0.35), noises[0]);
  const right = mix(scale(delayed(voice, 40), 0.9), scale(delayed(other, 460), 0.4), noises[1]);
  const found = await inspect([left, right]);
  expect(found.verdict).toBe('stereo');
  const strengths = found.pairs[0].spoke.filter(({ says }) => says === 'two-mics').map(({ strength }) => strength);
  expect(strengths.length).toBeGreaterThan(1);
  expect(strengths).toEqual([...strengths].sort((a, b) => b - a));
  expect(Math.max(...strengths)).toBeLessThan(1);
});

test('what is exactly nothing is said as that, and strengths stay numbers', async () => {
  const [{ spoke }] = (await inspect([voice, voice])).pairs;
  expect(spoke[0].says).toBe('dual-mono');
  expect(spoke[0].strength).toBeGreaterThan(3);
  expect(spoke[0].strength).toBeLessThanOrEqual(4);
  expect(spoke[0].message).toContain('is nothing at all against left plus right');

  // Nor is it said how many hundred decibels that is deeper than before.
  const [turned] = (await inspect([voice, scale(voice, -1)])).pairs;
  const [disguised] = turned.spoke.filter(({ says }) => says === 'fake-stereo');
  expect(disguised.message).toContain('is nothing at all against the sum; one signal in disguise');
  expect(disguised.strength).toBeLessThanOrEqual(4);
});
