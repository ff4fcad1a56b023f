import { execFileSync } from 'node:child_process';
import { copyFile, mkdir, rename, symlink, truncate, utimes, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fillFrom, swapSides } from '@pocket-twin/core/repair/plan/plans.ts';
import { MediaListing } from '@pocket-twin/core/schema/mediaFolder.ts';
import { SuggestionUsed } from '@pocket-twin/core/schema/batch.ts';
import { Project } from '@pocket-twin/core/schema/project.ts';
import type { Lineup, LineupRow } from '@pocket-twin/core/schema/lineup.ts';
import { mix } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { scratchFolder, wavBytes, writeTestWav } from '@pocket-twin/media/test/files.ts';
import { Client, until } from '../test/client.ts';
import { LARGEST_BYTES, startTestServer } from '../test/testServer.ts';

// A whole shoot at once: setups, the lineup, suggestions on many, linked folders.

let server: Awaited<ReturnType<typeof startTestServer>>;
let client: Client;
let footage: string;
beforeAll(async () => {
  footage = await scratchFolder();
  server = await startTestServer({ mediaFolders: [footage] });
  client = new Client(server.origin);
});
afterAll(() => server.stop());

const VOICE = mix(chatter(0.1, 2, 1), noise(0.0005, 2, 3));
const HISS = noise(0.0008, 2, 2);
const OTHER = mix(chatter(0.1, 2, 7), noise(0.0005, 2, 8));
const oneSided = (): Buffer => wavBytes([VOICE, HISS]);

const names = (rows: LineupRow[]): string[] => rows.map(({ name }) => name);
const setupNamed = (lineup: Lineup, name: string) => lineup.setups.find((setup) => setup.name === name)!;
/** The lineup once its setups are as wanted: they form a moment after the clips. */
const lineupWhen = (projectId: string, wanted: (lineup: Lineup) => boolean): Promise<Lineup> =>
  until(async () => {
    const lineup = await client.lineupOf(projectId);
    return wanted(lineup) && lineup;
  });

async function shoot(): Promise<string> {
  const projectId = await client.newProject();
  for (const take of ['A2', 'A10', 'A1']) await client.upload(projectId, `deck-${take}.wav`, oneSided());
  await client.upload(projectId, 'booth-1.wav', wavBytes([OTHER, OTHER]));
  await client.upload(projectId, 'notes.wav', Buffer.from('only words'));
  await client.settled(projectId, 5);
  return projectId;
}

/** Clips join their setups one after another. */
function isFormed({ setups }: Lineup): boolean {
  const clips = setups.map((setup) => setup.clips);
  return clips.sort((a, b) => a - b).join() === '1,3';
}

test('clips fall into setups, and the lineup sorts, searches, filters and counts them on the server', async () => {
  const projectId = await shoot();
  const lineup = await lineupWhen(projectId, isFormed);
  expect(setupNamed(lineup, 'deck-A')).toMatchObject({
    clips: 3,
    verdict: 'one-sided',
    side: 'left',
    differing: 0,
    mixed: false,
    intake: 'separate-monos',
    intakeDecided: false,
    explanation: 'names deck-A1 to deck-A10, right side empty in all, 48 kHz 24-bit stereo',
  });
  expect(lineup).toMatchObject({
    total: 5,
    shown: 5,
    counts: { 'one-sided': 3, 'dual-mono': 1, open: 4, unreadable: 1 },
    head: { headline: '3 of 5 clips would play wrong.' },
  });
  expect(lineup.head.detail).toMatch(/^All 3 share one cause: one microphone on input 1/);
  expect(lineup.groups.map(({ ids }) => ids.length)).toEqual([3, 1, 1]);
  expect(lineup.groups.at(-1)!.setupId).toBeNull();
  expect(names(await client.rowsOf(projectId, 'sort=name&grouped=false'))).toEqual([
    'booth-1.wav',
    'deck-A1.wav',
    'deck-A2.wav',
    'deck-A10.wav',
    'notes.wav',
  ]);
  expect(names(await client.rowsOf(projectId, 'sort=right&descending=true&grouped=false'))[0]).toBe('booth-1.wav');
  expect(names(await client.rowsOf(projectId, 'search=DECK+a1&sort=name'))).toEqual(['deck-A1.wav', 'deck-A10.wav']);
  const dual = await client.lineupOf(projectId, 'only=dual-mono');
  expect(dual).toMatchObject({ total: 5, shown: 1, counts: { 'one-sided': 3 } });
  expect((await client.call('GET', `projects/${projectId}/lineup?sort=colour`)).status).toBe(400);
  const row = (await client.rowsOf(projectId, 'search=deck-A1&sort=name'))[0];
  expect(row).toMatchObject({
    standing: 'open',
    kept: null,
    sameAs: 'deck-A2.wav',
    summary: { suggestion: { name: 'Fill right from left' } },
  });
});

test('files chosen together stand in the order of their folders and names, whichever arrives first, after those chosen before', async () => {
  const projectId = await client.newProject();
  const [earlier, later] = ['2026-05-02T10:00:00.000Z', '2026-05-02T10:00:07.000Z'];
  await client.upload(projectId, 'take-10.wav', oneSided(), { folder: 'day 1', chosenAt: later });
  await client.upload(projectId, 'take-9.wav', oneSided(), { folder: 'day 1', chosenAt: later });
  await client.upload(projectId, 'take-1.wav', oneSided(), { folder: 'day 2', chosenAt: later });
  await client.upload(projectId, 'wild.wav', oneSided(), { chosenAt: earlier });
  // A clock that is ahead does not put a clip before what comes later.
  await client.upload(projectId, 'ahead.wav', oneSided(), { chosenAt: '2100-01-01T00:00:00.000Z' });
  await client.upload(projectId, 'last.wav', oneSided());
  await client.settled(projectId, 6);
  expect(names(await client.rowsOf(projectId, 'grouped=false'))).toEqual([
    'wild.wav',
    'take-9.wav',
    'take-10.wav',
    'take-1.wav',
    'ahead.wav',
    'last.wav',
  ]);
});

test('a person renames, splits, moves and merges setups, and is kept to when more clips arrive', async () => {
  const projectId = await shoot();
  const first = await lineupWhen(projectId, isFormed);
  const idOf = new Map((await client.clipsOf(projectId)).map(({ name, id }) => [name, id]));
  const deck = setupNamed(first, 'deck-A');
  expect(
    (
      await client.call('PATCH', `projects/${projectId}/setups/${deck.id}`, {
        name: 'Ferry deck',
        roles: ['keeper', null],
        intake: 'separate-monos',
      })
    ).body,
  ).toMatchObject({ label: '“deck-A” renamed to “Ferry deck”' });
  const split = await client.call('POST', `projects/${projectId}/clips/move`, {
    clipIds: [idOf.get('deck-A10.wav')],
    to: { newName: 'Second recorder' },
  });
  expect(split.status).toBe(200);
  await client.upload(projectId, 'deck-A3.wav', oneSided());
  await client.settled(projectId, 6);
  const later = await lineupWhen(projectId, (lineup) => setupNamed(lineup, 'Ferry deck').clips === 3);
  expect(setupNamed(later, 'Ferry deck')).toMatchObject({
    id: deck.id,
    roles: ['keeper', null],
    intake: 'separate-monos',
    intakeDecided: true,
  });
  expect(setupNamed(later, 'Second recorder').clips).toBe(1);
  expect((await client.rowsOf(projectId, 'search=deck-A3'))[0].channelNames).toEqual(['keeper', null]);

  expect(
    (
      await client.call('POST', `projects/${projectId}/setups/merge`, {
        from: setupNamed(later, 'Second recorder').id,
        into: deck.id,
      })
    ).status,
  ).toBe(200);
  const merged = await lineupWhen(projectId, ({ setups }) => setups.length === 2);
  expect(setupNamed(merged, 'Ferry deck').clips).toBe(4);
  expect((await client.call('PATCH', `projects/${projectId}/setups/${deck.id}`, { name: ' ' })).body).toMatchObject({
    status: 400,
    title: 'name: Give the setup a name.',
  });
});

test('the intake rule can be set for a project before anything arrives', async () => {
  const projectId = await client.newProject();
  expect(
    Project.parse(
      (
        await client.call('PATCH', `projects/${projectId}`, {
          name: 'River',
          intake: 'separate-monos',
          frameRate: { numerator: 25, denominator: 1, dropFrame: false },
        })
      ).body,
    ),
  ).toMatchObject({ name: 'River', intake: 'separate-monos', clips: 0 });
  await client.upload(projectId, 'a.wav', oneSided());
  expect((await lineupWhen(projectId, ({ setups }) => setups.length === 1)).setups[0]).toMatchObject({
    intake: 'separate-monos',
    intakeDecided: true,
  });
  await client.call('PATCH', `projects/${projectId}`, { archived: true });
  expect(Project.parse((await client.call('GET', `projects/${projectId}`)).body)).toMatchObject({
    archived: true,
    wrong: 1,
    standings: { open: 1 },
    verdicts: { 'one-sided': 1 },
  });
});

test('a suggestion is kept on those whose it is, the others are left and said why, and one undo takes it back', async () => {
  const projectId = await shoot();
  const idOf = new Map((await client.clipsOf(projectId)).map(({ name, id }) => [name, id]));
  await client.call('PUT', `clips/${idOf.get('deck-A2.wav')}/repair`, { repair: swapSides(2) });
  const clipIds = [...idOf.values()];
  const used = SuggestionUsed.parse(
    (await client.call('POST', `projects/${projectId}/suggestions`, { clipIds, suggestion: 'Fill right from left' }))
      .body,
  );
  expect(used.batch).toMatchObject({ clips: 2, label: 'Fill right from left kept on 2 clips', undone: false });
  expect(used.left.map(({ name, why }) => `${name} ${why}`).sort()).toEqual([
    'booth-1.wav suggests “Left only, as mono”',
    'deck-A2.wav has “Swap sides” kept',
    'notes.wav could not be read',
  ]);
  const kept = async () => new Map((await client.rowsOf(projectId)).map((row) => [row.name, row.kept]));
  expect(Object.fromEntries(await kept())).toMatchObject({
    'deck-A1.wav': 'Fill right from left',
    'deck-A10.wav': 'Fill right from left',
    'deck-A2.wav': 'Swap sides',
    'booth-1.wav': null,
  });
  expect((await client.clipsOf(projectId)).find(({ name }) => name === 'deck-A1.wav')!.repair).toEqual(fillFrom(1, 2));
  expect((await client.lineupOf(projectId)).head.detail).toContain('3 have a repair kept.');

  expect((await client.call('POST', `projects/${projectId}/undo`)).body).toMatchObject({ clips: 2, undone: true });
  expect(Object.fromEntries(await kept())).toMatchObject({
    'deck-A1.wav': null,
    'deck-A10.wav': null,
    'deck-A2.wav': 'Swap sides',
  });
  expect((await client.call('POST', `projects/${projectId}/undo`)).status).toBe(409);
  expect((await client.call('POST', `projects/${projectId}/redo`)).body).toMatchObject({ clips: 2, undone: false });
  expect(Object.fromEntries(await kept())).toMatchObject({
    'deck-A1.wav': 'Fill right from left',
    'deck-A10.wav': 'Fill right from left',
    'deck-A2.wav': 'Swap sides',
  });
});

test('a written and proven repair shows as written, and as kept again when another is kept', async () => {
  const projectId = await client.newProject();
  await client.upload(projectId, 'a.wav', oneSided());
  const [{ id }] = await client.settled(projectId, 1);
  const standing = async () => (await client.rowsOf(projectId))[0].standing;
  await client.call('PUT', `clips/${id}/repair`, { repair: fillFrom(1, 2) });
  expect(await standing()).toBe('kept');
  await client.call('POST', `clips/${id}/writings`);
  await until(async () => (await standing()) === 'written');
  await client.call('PUT', `clips/${id}/repair`, { repair: swapSides(2) });
  expect(await standing()).toBe('kept');
});

test('removed clips can be put back; a name for display leaves the file its own', async () => {
  const projectId = await client.newProject();
  await client.upload(projectId, 'a.wav', oneSided());
  const [{ id }] = await client.settled(projectId, 1);
  expect((await client.call('PATCH', `clips/${id}`, { name: 'Keeper, first answer' })).body).toMatchObject({
    name: 'Keeper, first answer',
    fileName: 'a.wav',
  });
  await client.call('POST', `projects/${projectId}/clips/remove`, { clipIds: [id] });
  expect(await client.lineupOf(projectId)).toMatchObject({ total: 0 });
  expect((await client.call('GET', `clips/${id}`)).body).toMatchObject({
    status: 404,
    title: 'That clip is no longer in the project.',
  });
  await client.call('POST', `projects/${projectId}/clips/restore`, { clipIds: [id] });
  expect(names(await client.rowsOf(projectId))).toEqual(['Keeper, first answer']);
});

test('left and right files are proposed as a pair, and the answer is kept', async () => {
  const projectId = await client.newProject();
  const wide = mix(chatter(0.05, 4, 1), noise(0.0005, 4, 3));
  await client.upload(projectId, 'walk_L.wav', wavBytes([wide]));
  await client.upload(projectId, 'walk_R.wav', wavBytes([wide.subarray(17)]));
  const {
    pairs: [pair],
  } = await lineupWhen(projectId, ({ pairs }) => pairs.length === 1);
  expect(pair).toMatchObject({ left: 'walk_L.wav', right: 'walk_R.wav', state: 'proposed' });
  await client.call('POST', `projects/${projectId}/pairs`, {
    leftId: pair.leftId,
    rightId: pair.rightId,
    accept: false,
  });
  expect((await client.lineupOf(projectId)).pairs[0].state).toBe('declined');
});

test('a folder is linked without copying; what moves or changes is said and can be pointed to again', async () => {
  const card = join(footage, 'card');
  await mkdir(join(card, 'day 2'), { recursive: true });
  await writeTestWav(join(card, 'A1.wav'), [VOICE, HISS]);
  await writeTestWav(join(card, 'day 2', 'A2.wav'), [VOICE, HISS]);
  await writeFile(join(card, 'card.xml'), '<card/>');
  await symlink('/etc', join(card, 'elsewhere'));
  expect((await client.call('GET', 'media-folders')).body).toMatchObject([{ index: 0, path: footage }]);
  const listing = MediaListing.parse((await client.call('GET', 'media-folders/0/entries?path=card')).body);
  expect(listing.entries.map(({ name, kind }) => `${kind} ${name}`)).toEqual(['folder day 2', 'file A1.wav']);
  for (const path of ['../..', 'card/elsewhere', 'card/../../..'])
    expect((await client.call('GET', `media-folders/0/entries?path=${encodeURIComponent(path)}`)).status).toBe(403);

  const projectId = await client.newProject();
  const link = () => client.call('POST', `projects/${projectId}/links`, { folder: 0, paths: ['card'] });
  expect((await link()).body).toEqual({ clips: 2, skipped: [] });
  expect((await link()).body).toEqual({ clips: 0, skipped: [] });
  const clips = await client.settled(projectId, 2);
  expect(clips.map(({ linked, sourceState }) => [linked, sourceState])).toEqual([
    [true, 'here'],
    [true, 'here'],
  ]);
  const rows = await client.rowsOf(projectId, 'sort=name&grouped=false');
  expect(rows.map(({ folder }) => folder)).toEqual(['card', 'card/day 2']);

  const stateOf = async (name: string) =>
    (await client.rowsOf(projectId)).find((row) => row.name === name)!.sourceState;
  await rename(join(card, 'A1.wav'), join(card, 'day 2', 'A1.wav'));
  await utimes(join(card, 'day 2', 'A2.wav'), 1, 1);
  await until(async () => (await stateOf('A1.wav')) === 'moved' && (await stateOf('A2.wav')) === 'changed');
  const [one, two] = rows.map(({ id }) => id);
  expect((await client.call('GET', `clips/${one}/samples?start=0&frames=9`)).body).toMatchObject({
    status: 404,
    title: expect.stringMatching(/^A1\.wav is no longer at .*point to it again/),
  });
  expect((await client.call('PUT', `clips/${one}/source`, { folder: 0, path: 'card/day 2/A1.wav' })).status).toBe(200);
  expect(await stateOf('A1.wav')).toBe('here');
  expect(
    new Float32Array(
      await (await fetch(`${server.origin}/api/clips/${one}/samples?start=1000&frames=1`)).arrayBuffer(),
    )[0],
  ).toBeCloseTo(VOICE[1000], 6);
  expect((await client.call('POST', `clips/${two}/measure`)).status).toBe(202);
  await until(
    async () =>
      (await stateOf('A2.wav')) === 'here' && (await client.clipsOf(projectId)).every(({ state }) => state === 'ready'),
  );
});

test('a picture gives a small still; a playlist, a picture without sound and a file over the limit get their sentences', async () => {
  const folder = await scratchFolder();
  const wav = await writeTestWav(join(folder, 'a.wav'), [VOICE, HISS]);
  const make = (name: string, ...options: string[]): string => {
    execFileSync('ffmpeg', [
      '-nostdin',
      '-loglevel',
      'error',
      '-f',
      'lavfi',
      '-i',
      'testsrc=size=320x180:rate=25:duration=2',
      ...options,
      join(folder, name),
    ]);
    return join(folder, name);
  };
  await mkdir(join(footage, 'mixed'), { recursive: true });
  await copyFile(make('seen.mov', '-i', wav, '-c:v', 'mjpeg', '-c:a', 'pcm_s24le'), join(footage, 'mixed', 'seen.mov'));
  await copyFile(make('mute.mp4', '-c:v', 'mpeg4'), join(footage, 'mixed', 'mute.mp4'));
  await writeFile(join(footage, 'mixed', 'list.mp3'), '#EXTM3U\nfile:///etc/passwd\n');
  await writeFile(join(footage, 'mixed', 'huge.wav'), '');
  await truncate(join(footage, 'mixed', 'huge.wav'), LARGEST_BYTES + 1);
  const projectId = await client.newProject();
  await client.call('POST', `projects/${projectId}/links`, { folder: 0, paths: ['mixed'] });
  const clips = await client.settled(projectId, 4);
  const byName = new Map(clips.map((clip) => [clip.name, clip]));
  expect(byName.get('mute.mp4')!.error).toBe('mute.mp4 has a picture but no sound in it.');
  expect(byName.get('list.mp3')!.error).toMatch(/^list\.mp3 is a text file inside/);
  expect(byName.get('huge.wav')!.error).toBe('huge.wav is larger than this server takes. Bring in a shorter file.');
  const seen = byName.get('seen.mov')!;
  expect(seen).toMatchObject({ hasStill: true, inspection: { format: { hasVideo: true } } });
  const still = Buffer.from(await (await fetch(`${server.origin}/api/clips/${seen.id}/still`)).arrayBuffer());
  expect(still.subarray(0, 2).toString('hex')).toBe('ffd8');
});
