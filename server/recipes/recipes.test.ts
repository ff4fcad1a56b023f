import { recipeOf } from '@pocket-twin/core/repair/plan/recipes.ts';
import { fillFrom, leaveAsItIs, swapSides } from '@pocket-twin/core/repair/plan/plans.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { SuggestionUsed } from '@pocket-twin/core/schema/batch.ts';
import { NOTHING_TO_FIND, type Found, type LineUp } from '@pocket-twin/core/schema/proposal.ts';
import type { RecipeForecast, SavedRecipe } from '@pocket-twin/core/schema/recipe.ts';
import { later, mix } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { wavBytes } from '@pocket-twin/media/test/files.ts';
import { Client, until } from '../test/client.ts';
import { startTestServer } from '../test/testServer.ts';

// Plans for many: forecast first, the odd one out is never overwritten, one undo. And what is proposed for one clip.

let server: Awaited<ReturnType<typeof startTestServer>>;
let client: Client;
beforeAll(async () => {
  server = await startTestServer();
  client = new Client(server.origin);
});
afterAll(() => server.stop());

const VOICE = mix(chatter(0.1, 3, 1), noise(0.0004, 3, 3));
const OTHER = mix(chatter(0.1, 3, 7), noise(0.0004, 3, 8));
const HISS = noise(0.0006, 3, 2);

const call = async <Body>(method: string, path: string, body?: unknown): Promise<{ status: number; body: Body }> =>
  (await client.call(method, path, body)) as { status: number; body: Body };

async function project(clips: Record<string, Float64Array[]>): Promise<{ id: string; clips: Map<string, string> }> {
  const id = await client.newProject();
  for (const [name, sound] of Object.entries(clips)) await client.upload(id, name, wavBytes(sound));
  const found = await client.settled(id, Object.keys(clips).length);
  return { id, clips: new Map(found.map((clip) => [clip.name, clip.id])) };
}

const clipOf = async (id: string): Promise<Clip> => (await call<Clip>('GET', `clips/${id}`)).body;

test('a recipe is saved, listed, renamed and deleted', async () => {
  const { clips } = await project({ 'a.wav': [VOICE, HISS] });
  const { inspection } = await clipOf(clips.get('a.wav')!);
  const recipe = recipeOf('Lapel left', fillFrom(1, 2), inspection!);
  const { status, body } = await call<SavedRecipe>('POST', 'recipes', recipe);
  expect([status, body.recipe]).toEqual([201, recipe]);
  expect((await call<SavedRecipe>('PATCH', `recipes/${body.id}`, { name: 'Lapel' })).body.recipe.name).toBe('Lapel');
  const list = async () => (await call<SavedRecipe[]>('GET', 'recipes')).body.map(({ recipe: { name } }) => name);
  expect(await list()).toContain('Lapel');
  expect((await call('DELETE', `recipes/${body.id}`)).status).toBe(204);
  expect(await list()).not.toContain('Lapel');
  expect((await call('PATCH', `recipes/${body.id}`, { name: 'Gone' })).status).toBe(404);
  expect((await call('POST', 'recipes', { ...recipe, needs: { ...recipe.needs, channels: 3 } })).status).toBe(400);
});

test('the forecast says who gets it and who does not; only those get it, and one undo takes it back', async () => {
  const { id, clips } = await project({
    'a.wav': [VOICE, HISS],
    'b.wav': [OTHER, HISS],
    'c.wav': [HISS, VOICE],
    'd.wav': [VOICE, OTHER],
    'e.wav': [VOICE],
    'f.wav': [VOICE, HISS],
  });
  const idOf = (name: string): string => clips.get(name)!;
  await call('PUT', `clips/${idOf('f.wav')}/repair`, { repair: swapSides(2) });
  const { inspection } = await clipOf(idOf('a.wav'));
  const use = { clipIds: [...clips.values()], recipe: recipeOf('Lapel left', fillFrom(1, 2), inspection!), also: [] };
  const { body: forecast } = await call<RecipeForecast>('POST', `projects/${id}/recipe-forecasts`, use);
  expect(forecast.fits.map(({ name }) => name)).toEqual(['a.wav', 'b.wav']);
  expect(forecast.left).toEqual([
    {
      clipId: idOf('c.wav'),
      name: 'c.wav',
      why: expect.stringContaining('Here the left side is only noise'),
      canBeForced: true,
    },
    { clipId: idOf('d.wav'), name: 'd.wav', why: expect.stringContaining('carries programme'), canBeForced: true },
    { clipId: idOf('e.wav'), name: 'e.wav', why: 'It has one channel; the recipe is for 2.', canBeForced: false },
    { clipId: idOf('f.wav'), name: 'f.wav', why: '“Swap sides” is kept on it.', canBeForced: true },
  ]);
  expect((await clipOf(idOf('a.wav'))).repair).toBeNull();
  const { body: used } = await call<SuggestionUsed>('POST', `projects/${id}/recipe-uses`, {
    ...use,
    also: [idOf('c.wav'), idOf('e.wav')],
  });
  expect(used.batch).toMatchObject({ label: '“Lapel left” kept on 3 clips', clips: 3 });
  expect(used.left.map(({ name }) => name)).toEqual(['d.wav', 'e.wav', 'f.wav']);
  expect((await clipOf(idOf('c.wav'))).repair?.action).toBe('fill');
  expect((await clipOf(idOf('f.wav'))).repair?.action).toBe('swap');
  await call('POST', `projects/${id}/undo`);
  for (const name of ['a.wav', 'b.wav', 'c.wav']) expect((await clipOf(idOf(name))).repair).toBeNull();
});

test('sections are found anew on each clip that a recipe is used on', async () => {
  const long = mix(chatter(0.1, 6, 1), noise(0.0004, 6, 3));
  const drop = (from: number, to: number) => long.map((x, i) => (i >= from * 48_000 && i < to * 48_000 ? 0 : x));
  const { id, clips } = await project({ 'a.wav': [long, drop(1.5, 3)], 'b.wav': [long, drop(1.2, 4)] });
  const first = clips.get('a.wav')!;
  const { inspection } = await clipOf(first);
  const finds = { ...NOTHING_TO_FIND, sections: true };
  const { body: found } = await call<Found>('POST', `clips/${first}/proposals`, { base: leaveAsItIs(2), finds });
  const repair = 'repair' in found ? found.repair : leaveAsItIs(2);
  expect(repair.sections!.list).toHaveLength(3);
  const recipe = { ...recipeOf('Mend', repair, inspection!), finds: ['sections'] };
  await call('POST', `projects/${id}/recipe-uses`, { clipIds: [...clips.values()], recipe, also: [] });
  const starts = await Promise.all(
    ['a.wav', 'b.wav'].map(
      async (name) => (await clipOf(clips.get(name)!)).repair!.sections!.list[1].startFrame / 48_000,
    ),
  );
  expect(starts[0]).toBeCloseTo(1.5, 1);
  expect(starts[1]).toBeCloseTo(1.2, 1);
});

test('a setup gives its recipe to what comes in with it: where it fits, never over a person’s word, and one undo takes it back', async () => {
  const { id, clips } = await project({ 'deck-A1.wav': [VOICE, HISS], 'deck-A2.wav': [OTHER, HISS] });
  const { inspection } = await clipOf(clips.get('deck-A1.wav')!);
  const { body: saved } = await call<SavedRecipe>('POST', 'recipes', recipeOf('Lapel', fillFrom(1, 2), inspection!));
  const setup = () => until(async () => (await client.lineupOf(id)).setups.find(({ clips }) => clips >= 2));
  const { id: setupId, recipe: before } = await setup();
  expect(before).toBeNull();
  const change = await call('PATCH', `projects/${id}/setups/${setupId}`, { recipeId: saved.id });
  expect([change.status, (await setup()).recipe]).toEqual([200, { id: saved.id, name: 'Lapel' }]);

  for (const [name, sound] of Object.entries({ 'deck-A3.wav': [OTHER, HISS], 'deck-A4.wav': [HISS, VOICE] }))
    await client.upload(id, name, wavBytes(sound));
  const found = await client.settled(id, 4);
  const idOf = (name: string): string => found.find((clip) => clip.name === name)!.id;
  const kept = async (name: string) => (await clipOf(idOf(name))).repair?.action ?? null;
  expect(await until(() => kept('deck-A3.wav'))).toBe('fill');
  expect(await kept('deck-A1.wav')).toBeNull();
  expect(await kept('deck-A4.wav')).toBeNull();
  const { body: undone } = await call<{ label: string }>('POST', `projects/${id}/undo`);
  expect(undone.label).toBe('“Lapel” kept on 1 clip that came in');
  expect(await kept('deck-A3.wav')).toBeNull();

  // A recipe that is gone is none, and harms nobody.
  expect((await call('DELETE', `recipes/${saved.id}`)).status).toBe(204);
  expect((await setup()).recipe).toBeNull();
});

test('a recipe that looks for something leaves alone what has nothing of it', async () => {
  const { id, clips } = await project({ 'even.wav': [VOICE, VOICE] });
  const { inspection } = await clipOf(clips.get('even.wav')!);
  const recipe = { ...recipeOf('Mend', leaveAsItIs(2), inspection!), finds: ['sections'] };
  const use = { clipIds: [...clips.values()], recipe, also: [] };
  const { body } = await call<SuggestionUsed>('POST', `projects/${id}/recipe-uses`, use);
  expect(body).toMatchObject({ batch: null, left: [{ name: 'even.wav', why: 'Nothing was found on it to mend.' }] });
  expect((await clipOf(clips.get('even.wav')!)).repair).toBeNull();
});

test('line-up is measured; what does not fit a clip, or what another window has kept meanwhile, changes nothing', async () => {
  const { clips } = await project({ 'late.wav': [VOICE, later(VOICE, 23)] });
  const id = clips.get('late.wav')!;
  const { body: found } = await call<LineUp>('POST', `clips/${id}/line-up`, { channels: [1, 2], span: null });
  expect(found).toMatchObject({ delaySamples: 23, polarity: 'normal' });
  expect(found.nullAfterDb).toBeLessThan(found.nullBeforeDb - 20);
  expect(found.sumLossAfterDb).toBeLessThan(0.1);
  expect((await call('POST', `clips/${id}/line-up`, { channels: [1, 3], span: null })).status).toBe(409);
  const beyond = {
    fadeFrames: 480,
    list: [{ startFrame: 0, endFrame: 999_999, fadeIn: 'equal-gain', routes: leaveAsItIs(2).outputs[0].routes }],
  };
  const refused = await call<{ message: string }>('PUT', `clips/${id}/repair`, {
    repair: { ...leaveAsItIs(2), sections: beyond },
  });
  expect(refused.status).toBe(409);
  expect(JSON.stringify(refused.body)).toContain('beyond the clip’s end at 00:03.00');
  // Two windows, both of which saw nothing kept.
  expect((await call('PUT', `clips/${id}/repair`, { repair: fillFrom(1, 2), seen: null })).status).toBe(200);
  const second = await call('PUT', `clips/${id}/repair`, { repair: swapSides(2), seen: null });
  expect(second.status).toBe(409);
  expect(JSON.stringify(second.body)).toContain(
    'Another window has changed what is kept of late.wav: “Fill right from left”',
  );
  // Writing keeps in the same step, and overwrites nothing unseen either.
  expect((await call('POST', `clips/${id}/writings`, { repair: swapSides(2), seen: null })).status).toBe(409);
  expect((await clipOf(id)).repair?.action).toBe('fill');
  expect((await call('PUT', `clips/${id}/repair`, { repair: swapSides(2), seen: fillFrom(1, 2) })).status).toBe(200);
});
