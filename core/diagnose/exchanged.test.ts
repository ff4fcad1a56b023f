import { proposeSections } from '../repair/propose/sections.ts';
import { Chance } from '../synth/chance.ts';
import { gain, mix, RATE, scale, type Mono } from '../synth/mono.ts';
import { chatter, hiss } from '../synth/noise.ts';
import { riverPair } from '../synth/river.ts';
import { talkOf } from '../synth/talk.ts';
import { inspect, readerOf } from '../test/inspecting.ts';

const SECONDS = 18;
const frames = SECONDS * RATE;
const exchanged = ([left, right]: Mono[], atSeconds: number): Mono[] => {
  const at = atSeconds * RATE;
  return [left.map((x, i) => (i < at ? x : right[i])), right.map((x, i) => (i < at ? x : left[i]))];
};
const twoMicrophones = (seed: number, noise: [number, number]): Mono[] => {
  const { microphones } = talkOf(new Chance(seed), {
    ...{ talkers: 2, seconds: SECONDS, bleedDb: -15, decaySeconds: 0.25, noiseDbfs: -90, overlaps: 0.1, yeses: 0.1 },
  });
  return microphones.map((side, i) => mix(side, hiss(side.length, noise[i], 10 * seed + i)));
};

test.each([
  { seed: 1, noise: [-66, -62] as [number, number], at: 9 },
  { seed: 2, noise: [-58, -70] as [number, number], at: 12 },
])('two microphones whose noise changes places at $at s have changed places there', async ({ seed, noise, at }) => {
  const sides = twoMicrophones(seed, noise);
  const found = await inspect(exchanged(sides, at));
  expect(found.verdict).toBe('two-mics');
  expect(found.detail).toContain('Two microphones, one on each side.');
  const finding = found.findings.find(({ code }) => code === 'swapped')!;
  // While somebody speaks no noise is heard: then it is where what is heard leans most abruptly.
  expect(Math.abs(finding.startSeconds - at)).toBeLessThan(1);
  expect(finding).toMatchObject({ severity: 'look', channels: [1, 2], endSeconds: SECONDS });
  expect(found.suggestion).toMatchObject({ action: 'review', reason: expect.stringContaining('change places') });
});

test('a picture that leans changes places to the tenth of a second, and sections swap it back', async () => {
  const [left, right] = riverPair(frames, -30);
  const sides = exchanged([left, gain(right, -5)], 11).map((side, i) => mix(side, hiss(frames, -80, i)));
  const found = await inspect(sides);
  expect([found.verdict, found.headline]).toEqual(['stereo', 'The sides change places on the way.']);
  expect(found.detail).toMatch(/^From 00:1\d\.\d on each carries what the other carried before\.$/);
  const finding = found.findings.find(({ code }) => code === 'swapped')!;
  expect(Math.abs(finding.startSeconds - 11)).toBeLessThan(0.15);
  expect(finding.message).toContain('what was louder left is as much louder right');
  const plan = (await proposeSections(found, readerOf(sides)))!;
  expect(plan.list.map(({ routes }) => routes.map(([{ from }]) => from))).toEqual([
    [1, 2],
    [2, 1],
  ]);
  expect(Math.abs(plan.list[1].startFrame / RATE - 11)).toBeLessThan(0.15);
});

test('copies of which first the one and then the other is louder are brought to no level by a gain', async () => {
  const voice = chatter(0.1, SECONDS, 4);
  const sides = exchanged([mix(voice, hiss(frames, -80, 1)), mix(scale(voice, 0.5), hiss(frames, -80, 2))], 10);
  const found = await inspect(sides);
  expect(found.findings.map(({ code }) => code)).toContain('swapped');
  expect(found.suggestion.action).toBe('review');
});

test('who speaks first on the left and then on the right, a gain that is moved, and what leans all the time are none', async () => {
  const [first, second] = [chatter(0.1, SECONDS, 4), chatter(0.1, SECONDS, 9)];
  const half = (sound: Mono, from: number, to: number): Mono =>
    sound.map((x, i) => (i >= from * RATE && i < to * RATE ? x : 0));
  const [one, other] = [half(first, 0, 8.5), half(second, 9.2, SECONDS)];
  const byTurns = [mix(one, gain(other, -6), hiss(frames, -66, 1)), mix(gain(one, -6), other, hiss(frames, -66, 2))];
  const [left, right] = twoMicrophones(3, [-64, -60]);
  const moved = [left.map((x, i) => (i < 9 * RATE ? x : 2.5 * x)), right];
  const [wide, wider] = riverPair(frames, -30);
  for (const sides of [byTurns, [left, right], moved, [wide, gain(wider, -5)]]) {
    const { findings } = await inspect(sides);
    expect(findings.map(({ code }) => code)).not.toContain('swapped');
  }
});
