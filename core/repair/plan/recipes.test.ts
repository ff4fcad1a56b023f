import { noise, chatter } from '../../synth/noise.ts';
import { mix, silence } from '../../synth/mono.ts';
import { inspect } from '../../test/inspecting.ts';
import { commonGainDb } from './commonGainDb.ts';
import { fillFrom, leaveAsItIs, selectChannel } from './plans.ts';
import { needsInWords, recipeOf, savedRecipe, unfitFor } from './recipes.ts';

const VOICE = mix(chatter(0.12, 4, 1), noise(0.0003, 4, 2));
const OTHER = mix(
  chatter(0.1, 4, 7).map((_, i, all) => all[(i + 96_000) % all.length]),
  noise(0.0003, 4, 3),
);
const HISS = noise(0.0006, 4, 4);

test('a recipe fits what is like the clip it was saved from, and says why it does not fit another', async () => {
  const from = await inspect([VOICE, HISS]);
  const recipe = recipeOf('Lapel left', fillFrom(1, 2), from);
  expect(needsInWords(recipe.needs)).toBe('stereo, programme on 1, nothing on 2');
  expect(unfitFor(recipe, await inspect([OTHER, HISS]))).toBeNull();
  expect(unfitFor(recipe, await inspect([HISS, VOICE]))).toBe(
    'Here the left side is only noise: nothing would be left of it.',
  );
  expect(unfitFor(recipe, await inspect([silence(VOICE.length), VOICE]))).toMatch('Here the left side is silent');
  expect(unfitFor(recipe, await inspect([VOICE, OTHER]))).toBe(
    'Here the right side carries programme, which the recipe would leave out.',
  );
  expect(unfitFor(recipe, await inspect([VOICE]))).toBe('It has one channel; the recipe is for 2.');
});

test('a recipe is read back from a file; a bare repair is one that asks for its channels alone', async () => {
  const recipe = recipeOf('Lapel left', fillFrom(1, 2), await inspect([VOICE, HISS]));
  expect(savedRecipe(JSON.parse(JSON.stringify(recipe)))).toEqual(recipe);
  expect(savedRecipe(selectChannel(2, 2)).needs).toEqual({ channels: 2, programme: [], empty: [] });
  for (const wrong of [{}, null, [], { ...recipe, needs: { ...recipe.needs, channels: 3 } }, { ...recipe, name: ' ' }])
    expect(() => savedRecipe(wrong)).toThrow();
});

test('a recipe of a clip whose clocks were brought together lines each clip up anew', async () => {
  const inspection = await inspect([VOICE, OTHER]);
  const late = { channel: 1, gainDb: 0, polarity: 'normal' as const, delaySamples: 241 };
  const moving = {
    ...{ channel: 2, gainDb: -3, polarity: 'inverted' as const, delaySamples: 41 },
    course: { driftPpm: -60, jump: null },
  };
  const fixed = recipeOf('Fixed', { ...leaveAsItIs(2), trims: [late] }, inspection);
  expect([fixed.finds, fixed.repair.trims]).toEqual([[], [late]]);
  const { finds, repair } = recipeOf('Clocks', { ...leaveAsItIs(2), trims: [late, moving] }, inspection);
  expect(finds).toEqual(['line-up']);
  expect(repair.trims).toEqual([{ channel: 2, gainDb: -3, polarity: 'inverted', delaySamples: 0 }]);
});

test('a common gain brings clips, one after another, to the target, and none over the ceiling', () => {
  // K-weighted mean squares: -0.691 + 10 log10(0.01) is -20.69 LUFS.
  const steps = (power: number) => new Float64Array(100).fill(power);
  const target = { commonGainDb: null, loudnessLufs: -23, peakDbtp: null, ceilingDbtp: null };
  const alike = [0, 1].map(() => ({ stepPowers: steps(0.01), truePeak: 0.5 }));
  expect(commonGainDb(alike, target)).toBeCloseTo(-23 + 20.691, 3);
  // The quiet one passes the relative gate: the mean of both.
  const apart = [
    { stepPowers: steps(0.01), truePeak: 0.5 },
    { stepPowers: steps(0.004), truePeak: 0.2 },
  ];
  expect(commonGainDb(apart, target)).toBeCloseTo(-23 + 0.691 - 10 * Math.log10(0.007), 1);
  expect(commonGainDb(alike, { ...target, loudnessLufs: 0, ceilingDbtp: -1 })).toBeCloseTo(
    -1 - 20 * Math.log10(0.5),
    9,
  );
  expect(commonGainDb([{ stepPowers: steps(0), truePeak: 0 }], target)).toBe(0);
});
