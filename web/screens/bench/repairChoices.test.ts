import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import { swapSides } from '@pocket-twin/core/repair/plan/plans.ts';
import { inspect } from '@pocket-twin/core/test/inspecting.ts';
import { delayed, lowPassed } from '@pocket-twin/core/synth/filters.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { foundPlans } from './foundPlans.ts';
import { repairChoices, startingRepair } from './repairChoices.ts';

const voice = lowPassed(chatter(0.08, 4, 1));
const clipOf = async (...channels: Float64Array[]): Promise<Clip> =>
  ({ inspection: await inspect(channels), repair: null }) as unknown as Clip;
const suggestedOf = (clip: Clip): string[] =>
  repairChoices(clip)
    .filter(({ suggested }) => suggested)
    .map(({ name }) => name);

test('each clip has its choices on the number keys, exactly one of them suggested', async () => {
  for (const [channels, name] of [
    [[voice, noise(0.0008, 4, 2)], 'Fill right from left'],
    [[noise(0.0008, 4, 2), voice], 'Fill left from right'],
    [[voice, voice], 'Left only, as mono'],
    [[voice], 'Leave as it is'],
  ] as const) {
    const clip = await clipOf(...channels);
    const choices = repairChoices(clip);
    expect(choices.map(({ key }) => key)).toEqual(choices.map((_, i) => String(i + 1)));
    expect(new Set(choices.map((choice) => choice.name)).size).toBe(choices.length);
    expect(suggestedOf(clip)).toEqual([name]);
  }
});

test('a repair made for this clip alone stands last, and the others keep their keys', async () => {
  const plain = repairChoices(await clipOf(voice, voice));
  const late = await clipOf(voice, delayed(voice, 31));
  const choices = repairChoices(late);
  expect(choices.slice(0, -1).map(({ name }) => name)).toEqual(plain.map(({ name }) => name));
  expect(choices.at(-1)).toMatchObject({ suggested: true, key: String(plain.length + 1) });
});

test('where a side of stereo may be upside down turning it over can be tried, and is not suggested', async () => {
  const [one, other, third] = [11, 12, 13].map((seed) => chatter(0.08, 4, seed));
  const left = one.map((x, i) => x + 0.6 * other[i] + 0.3 * third[i]);
  const right = one.map((x, i) => 0.6 * x + other[i] - 0.1 * third[i]);
  const turned = await clipOf(
    left,
    right.map((x) => -x),
  );
  expect(turned.inspection!.headline).toBe('Stereo, but one side may be upside down.');
  const last = repairChoices(turned).at(-1)!;
  expect(last).toMatchObject({ name: 'Turn one side over', suggested: false, key: '9' });
  expect(last.repair.trims).toEqual([expect.objectContaining({ channel: 2, polarity: 'inverted', gainDb: 0 })]);
  expect(startingRepair(turned).action).toBe('leave');
  expect(repairChoices(await clipOf(left, right)).map(({ name }) => name)).not.toContain('Turn one side over');
});

test('the bench starts with what is kept, else with what is suggested, else with nothing done', async () => {
  const clip = await clipOf(voice, noise(0.0008, 4, 2));
  expect(startingRepair(clip).action).toBe('fill');
  expect(startingRepair({ ...clip, repair: swapSides(2) })).toEqual(swapSides(2));
  const stereo = await clipOf(noise(0.05, 4, 5), noise(0.05, 4, 6));
  expect(startingRepair(stereo).action).toBe('leave');
});

test('turns are suggested for two talkers, and for nobody else; they are looked for when a person asks', async () => {
  const turn = (seed: number, which: number): Float64Array =>
    chatter(0.08, 12, seed).map((x, i) => (Math.floor(i / 72000) % 2 === which ? x : 0));
  const [a, b] = [turn(1, 0), turn(2, 1)];
  const bled = (near: Float64Array, far: Float64Array, seed: number): Float64Array => {
    const late = delayed(far, 190);
    const hiss = noise(0.0003, 12, seed);
    return near.map((x, i) => x + 0.15 * late[i] + hiss[i]);
  };
  const two = foundPlans(await clipOf(bled(a, b, 6), bled(b, a, 7)));
  expect(two.find(({ id }) => id === 'turns')).toMatchObject({ suggested: true, comesByItself: false });
  const stereo = foundPlans(await clipOf(noise(0.05, 4, 5), noise(0.05, 4, 6)));
  expect(stereo.find(({ id }) => id === 'turns')?.suggested ?? false).toBe(false);
});
