import { Batch, SuggestionUsed } from '@pocket-twin/core/schema/batch.ts';
import { isUndecided, playsWrong } from '@pocket-twin/core/lineup/standing.ts';
import { fillFrom, leaveAsItIs, splitToMonos, swapSides } from '@pocket-twin/core/repair/plan/plans.ts';
import { asciiBytes } from '@pocket-twin/core/riff/byteSource.ts';
import { LineupIndex, type Standing } from '@pocket-twin/core/schema/lineup.ts';
import { Project } from '@pocket-twin/core/schema/project.ts';
import { Writing } from '@pocket-twin/core/schema/writing.ts';
import { mix, scale } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { inspectFile } from '@pocket-twin/media/read/inspectFile.ts';
import { INT24, scratchFolder, wavBytes } from '@pocket-twin/media/test/files.ts';
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { ClipRow } from '../clips/clip.ts';
import { lockProject } from '../projects/project.ts';
import { Client, until } from '../test/client.ts';
import { startTestServer } from '../test/testServer.ts';

// What a person does in a day, in whatever order: their word is kept, and all that is said of it agrees.

let server: Awaited<ReturnType<typeof startTestServer>>;
let client: Client;
beforeAll(async () => {
  server = await startTestServer();
  client = new Client(server.origin);
});
afterAll(() => server.stop());

const VOICE = mix(chatter(0.1, 1, 1), noise(0.0005, 1, 3));
const OTHER = mix(chatter(0.1, 1, 7), noise(0.0005, 1, 8));
const HISS = noise(0.0008, 1, 2);
const SOUNDS = { left: [VOICE, HISS], same: [OTHER, OTHER], down: [VOICE, scale(VOICE, -1)] };

async function project(
  clips: [name: string, sound: keyof typeof SOUNDS][],
): Promise<{ id: string; ids: Map<string, string> }> {
  const id = await client.newProject();
  for (const [name, sound] of clips) await client.upload(id, name, wavBytes(SOUNDS[sound]));
  const found = await client.settled(id, clips.length);
  await until(async () => {
    const { entries } = await index(id);
    return entries.length === clips.length && entries.every(({ setupId }) => setupId !== null);
  });
  return { id, ids: new Map(found.map((clip) => [clip.name, clip.id])) };
}

async function index(projectId: string): Promise<LineupIndex> {
  return LineupIndex.parse((await client.call('GET', `projects/${projectId}/lineup/index`)).body);
}

/** The clips of each setup, by the setups' names. */
async function homes(projectId: string): Promise<Record<string, string[]>> {
  const { setups, entries } = await index(projectId);
  return Object.fromEntries(
    setups.map(({ id, name }) => [
      name,
      entries
        .filter(({ setupId }) => setupId === id)
        .map((entry) => entry.name)
        .sort(),
    ]),
  );
}

const post = async (path: string, body?: unknown) =>
  (await client.call('POST', path, body)) as { status: number; body: unknown };

test('a move takes what was chosen and nothing else, into an automatic name as well, and it is taken back and done again in order', async () => {
  const { id, ids } = await project([
    ['lav-1.wav', 'left'],
    ['lav-2.wav', 'left'],
    ['lav-3.wav', 'left'],
    ['booth-1.wav', 'same'],
    ['booth-2.wav', 'same'],
    ['odd-1.wav', 'down'],
  ]);
  const first = await homes(id);
  expect(first).toEqual({
    lav: ['lav-1.wav', 'lav-2.wav', 'lav-3.wav'],
    booth: ['booth-1.wav', 'booth-2.wav'],
    'odd-1': ['odd-1.wav'],
  });
  const booth = (await index(id)).setups.find(({ name }) => name === 'booth')!;
  const moved = await post(`projects/${id}/clips/move`, { clipIds: [ids.get('odd-1.wav')], to: booth.id });
  expect(moved.body).toMatchObject({ setupId: booth.id, batch: { label: '1 clip moved to “booth”', clips: 1 } });
  const wanted = { lav: first.lav, booth: ['booth-1.wav', 'booth-2.wav', 'odd-1.wav'] };
  // The setups are formed again, and a newcomer joins by likeness.
  await client.upload(id, 'lav-4.wav', wavBytes(SOUNDS.left));
  await client.settled(id, 7);
  const later = await until(async () => {
    const now = await homes(id);
    return now.lav?.length === 4 && now;
  });
  expect(later).toEqual({ ...wanted, lav: [...wanted.lav, 'lav-4.wav'] });

  const lav = (await index(id)).setups.find(({ name }) => name === 'lav')!;
  expect(
    (await post(`projects/${id}/setups/merge`, { from: booth.id, into: lav.id, name: 'Deck' })).body,
  ).toMatchObject({ label: '“booth” merged into “Deck”' });
  expect(Object.keys(await homes(id))).toEqual(['Deck']);
  expect((await index(id)).history).toEqual({ undo: '“booth” merged into “Deck”', redo: null });
  expect(Batch.parse((await post(`projects/${id}/undo`)).body)).toMatchObject({
    label: '“booth” merged into “Deck”',
    undone: true,
  });
  expect(await homes(id)).toEqual(later);
  expect(Batch.parse((await post(`projects/${id}/undo`)).body)).toMatchObject({ label: '1 clip moved to “booth”' });
  await until(async () => JSON.stringify((await homes(id))['odd-1']) === '["odd-1.wav"]');
  expect((await index(id)).history).toEqual({ undo: null, redo: '1 clip moved to “booth”' });
  await post(`projects/${id}/redo`);
  await post(`projects/${id}/redo`);
  expect((await homes(id)).Deck).toHaveLength(7);
  expect((await post(`projects/${id}/redo`)).body).toMatchObject({ status: 409, title: 'There is nothing to redo.' });
});

test('a clip that was measured a moment ago and is in no setup yet can be moved, and taken back', async () => {
  const { id, ids } = await project([
    ['lav-1.wav', 'left'],
    ['lav-2.wav', 'left'],
    ['booth-1.wav', 'same'],
  ]);
  const booth = (await index(id)).setups.find(({ name }) => name.startsWith('booth'))!;
  await ClipRow.update({ setupId: null }, { where: { id: ids.get('lav-2.wav') } });
  expect(
    (await post(`projects/${id}/clips/move`, { clipIds: [ids.get('lav-2.wav')], to: booth.id })).body,
  ).toMatchObject({ setupId: booth.id, batch: { clips: 1 } });
  expect((await homes(id))[booth.name]).toEqual(['booth-1.wav', 'lav-2.wav']);
  expect((await post(`projects/${id}/undo`)).status).toBe(200);
  expect((await homes(id))[booth.name]).toEqual(['booth-1.wav']);
  await ClipRow.update({ state: 'waiting' }, { where: { id: ids.get('lav-1.wav') } });
  expect(
    (await post(`projects/${id}/clips/move`, { clipIds: [ids.get('lav-1.wav')], to: booth.id })).body,
  ).toMatchObject({ title: 'One of them is not measured yet, or not readable. Move it when it is measured.' });
});

test('a mixed setup is split by what its clips carry, in one press that can be taken back', async () => {
  const { id } = await project([
    ['a.wav', 'left'],
    ['b.wav', 'same'],
    ['c.wav', 'left'],
    ['d.wav', 'same'],
    ['e.wav', 'down'],
  ]);
  const ids = (await index(id)).entries.map((entry) => entry.id);
  const { setupId } = (await post(`projects/${id}/clips/move`, { clipIds: ids, to: { newName: 'Whole day' } }))
    .body as { setupId: string };
  const mixed = await until(async () => (await index(id)).setups.find((setup) => setup.mixed));
  expect(mixed).toMatchObject({
    id: setupId,
    name: 'Whole day',
    verdict: null,
    differing: 0,
    explanation: expect.stringMatching(/^no one thing/),
  });
  expect((await post(`projects/${id}/setups/${setupId}/split`)).body).toMatchObject({
    label: '“Whole day” split into 3 by what they carry',
    clips: 3,
  });
  const parts = await homes(id);
  expect(
    Object.values(parts)
      .map((names) => names.length)
      .sort(),
  ).toEqual([1, 2, 2]);
  expect(Object.keys(parts).sort()).toEqual([
    'Whole day',
    'Whole day, one sound in disguise',
    expect.stringMatching(/^Whole day, (right side empty|the same on both sides)$/),
  ]);
  await post(`projects/${id}/undo`);
  expect(await homes(id)).toEqual({ 'Whole day': ['a.wav', 'b.wav', 'c.wav', 'd.wav', 'e.wav'] });
});

test('writing keeps what it writes, and asked for three times at once it is written once', async () => {
  const { id, ids } = await project([['a.wav', 'left']]);
  const clipId = ids.get('a.wav')!;
  // As the page sends it: the keys in another order each time are still the same repair.
  const { version, action, inputChannels, trims, outputs, level, sections, turns } = fillFrom(1, 2);
  const asked = await Promise.all(
    [fillFrom(1, 2), { turns, level, outputs, trims, inputChannels, action, sections, version }, fillFrom(1, 2)].map(
      (repair) => post(`clips/${clipId}/writings`, { repair }),
    ),
  );
  expect(asked.map(({ status }) => status).sort()).toEqual([200, 200, 201]);
  expect(new Set(asked.map(({ body }) => (body as { id: string }).id)).size).toBe(1);
  const writings = async () => Writing.array().parse((await client.call('GET', `clips/${clipId}/writings`)).body);
  const [done] = await until(async () => {
    const all = await writings();
    return all[0].state === 'done' && all;
  });
  expect(done.receipt).toMatchObject({
    repair: { action: 'fill' },
    files: [{ name: 'a-repaired.wav', exact: true, heldSamples: 0 }],
  });
  expect((await client.clipsOf(id))[0]).toMatchObject({ repair: { action: 'fill' }, canUndo: true });
  // One step, however often it was asked for: undo leads to none.
  expect((await post(`clips/${clipId}/writings`, { repair: fillFrom(1, 2) })).status).toBe(200);
  expect((await post(`clips/${clipId}/repair/undo`)).body).toMatchObject({ repair: null, canUndo: false });
  await post(`clips/${clipId}/repair/redo`);
  expect((await post(`clips/${clipId}/writings`, { repair: swapSides(2) })).status).toBe(201);
  await until(async () => (await writings())[0].state === 'done');
  expect((await writings()).map(({ receipt }) => receipt!.repair.action)).toEqual(['swap', 'fill']);
  expect((await index(id)).entries[0]).toMatchObject({ standing: 'written', kept: 'Swap sides' });
});

test('what is written carries the names of what is on it', async () => {
  const ixml = `<BWFXML><TRACK_LIST><TRACK_COUNT>2</TRACK_COUNT>${['lav', 'boom'].map((name, i) => `<TRACK><CHANNEL_INDEX>${i + 1}</CHANNEL_INDEX><INTERLEAVE_INDEX>${i + 1}</INTERLEAVE_INDEX><NAME>${name}</NAME></TRACK>`).join('')}</TRACK_LIST></BWFXML>`;
  const id = await client.newProject();
  await client.upload(id, 'named.wav', wavBytes([VOICE, OTHER], INT24, [{ id: 'iXML', body: asciiBytes(ixml) }]));
  const [clip] = await client.settled(id, 1);
  const folder = await scratchFolder();
  const written = async (repair: object): Promise<{ name: string; tracks: (string | null)[] }[]> => {
    const { body } = await post(`clips/${clip.id}/writings`, { repair });
    const { id: writingId } = body as { id: string };
    const done = await until(async () =>
      Writing.array()
        .parse((await client.call('GET', `clips/${clip.id}/writings`)).body)
        .find((one) => one.id === writingId && one.state === 'done'),
    );
    return Promise.all(
      done.receipt!.files.map(async ({ name }, i) => {
        await writeFile(
          join(folder, name),
          Buffer.from(await (await fetch(`${server.origin}/api/writings/${writingId}/files/${i}`)).arrayBuffer()),
        );
        return { name, tracks: (await inspectFile(join(folder, name))).facts.trackNames };
      }),
    );
  };
  expect(await written(swapSides(2))).toEqual([{ name: 'named-repaired.wav', tracks: ['boom', 'lav'] }]);
  expect(await written(splitToMonos(2))).toEqual([
    { name: 'named-lav.wav', tracks: ['lav'] },
    { name: 'named-boom.wav', tracks: ['boom'] },
  ]);
});

test('all counts agree while clips are kept, undone, written, removed and put back', async () => {
  const { id, ids } = await project([
    ['a.wav', 'left'],
    ['b.wav', 'left'],
    ['c.wav', 'same'],
    ['d.wav', 'down'],
  ]);
  await client.upload(id, 'notes.wav', Buffer.from('only words'));
  await client.settled(id, 5);
  const agree = async (): Promise<Record<string, number>> => {
    const { entries } = await index(id);
    const lineup = await client.lineupOf(id);
    const shown = Project.array()
      .parse((await client.call('GET', 'projects')).body)
      .find((one) => one.id === id)!;
    const rows = await client.rowsOf(id);
    const counted = (standing: Standing): number => entries.filter((entry) => entry.standing === standing).length;
    for (const [standing, count] of Object.entries(shown.standings)) {
      expect([standing, count, lineup.counts[standing as Standing] ?? 0]).toEqual([
        standing,
        counted(standing as Standing),
        count,
      ]);
      expect(rows.filter((row) => row.standing === standing)).toHaveLength(count);
      expect((await client.lineupOf(id, `only=${standing}`)).shown).toBe(count);
    }
    const wrong = entries.filter(playsWrong).length;
    expect(shown.wrong).toBe(wrong);
    expect(shown.clips).toBe(entries.length);
    expect(lineup.head.headline).toBe(
      wrong > 0 ? `${wrong} of ${entries.length} clips would play wrong.` : 'Nothing would play wrong any more.',
    );
    // What can be used is what is said to be open.
    for (const row of rows)
      expect(isUndecided(row.standing)).toBe(
        row.kept === null && (row.summary?.suggestion.action ?? 'none') !== 'none',
      );
    return Object.fromEntries(Object.entries(shown.standings).filter(([, count]) => count > 0));
  };
  expect(await agree()).toEqual({ open: 4, unreadable: 1 });
  const used = SuggestionUsed.parse(
    (await post(`projects/${id}/suggestions`, { clipIds: [...ids.values()], suggestion: null })).body,
  );
  expect(used).toMatchObject({ batch: { label: 'The suggestion of each kept on 4 clips', clips: 4 }, left: [] });
  expect(await agree()).toEqual({ kept: 4, unreadable: 1 });
  await post(`clips/${ids.get('a.wav')}/repair/undo`);
  expect(await agree()).toEqual({ open: 1, kept: 3, unreadable: 1 });
  await post(`clips/${ids.get('b.wav')}/writings`);
  await until(async () => (await index(id)).entries.some(({ standing }) => standing === 'written'));
  expect(await agree()).toEqual({ open: 1, kept: 2, written: 1, unreadable: 1 });
  await client.call('PUT', `clips/${ids.get('a.wav')}/repair`, { repair: leaveAsItIs(2) });
  expect(await agree()).toEqual({ kept: 3, written: 1, unreadable: 1 });
  await post(`projects/${id}/clips/remove`, { clipIds: [ids.get('b.wav'), ids.get('c.wav')] });
  expect(await agree()).toEqual({ kept: 2, unreadable: 1 });
  await post(`projects/${id}/undo`);
  expect(await agree()).toEqual({ kept: 3, written: 1, unreadable: 1 });
});

test('a deleted project is gone from every place, and can be put back', async () => {
  const { id, ids } = await project([['a.wav', 'left']]);
  expect((await client.call('DELETE', `projects/${id}`)).status).toBe(204);
  const missing = { status: 404, title: 'That project does not exist.' };
  expect((await client.call('GET', `projects/${id}`)).body).toMatchObject(missing);
  expect((await client.call('GET', `projects/${id}/lineup/index`)).body).toMatchObject(missing);
  expect((await client.call('GET', `clips/${ids.get('a.wav')}`)).status).toBe(404);
  expect(
    Project.array()
      .parse((await client.call('GET', 'projects')).body)
      .some((one) => one.id === id),
  ).toBe(false);
  expect((await post(`projects/${id}/restore`)).body).toMatchObject({ id, clips: 1 });
  expect((await client.call('GET', `clips/${ids.get('a.wav')}`)).status).toBe(200);
});

test('a bad link says what is missing', async () => {
  for (const [path, what] of [
    ['projects/nonsense', 'project'],
    ['projects/nonsense/lineup/index', 'project'],
    ['clips/nonsense', 'clip'],
    ['writings/nonsense/files/0', 'file'],
  ]) {
    expect((await client.call('GET', path)).body).toMatchObject({
      status: 404,
      title: `There is no ${what} at that address.`,
    });
  }
});

test('while setups are formed, clips come in and are written: nobody waits for another', async () => {
  const { id, ids } = await project([['a.wav', 'left']]);
  await server.sequelize.transaction(async (transaction) => {
    // As long as forming takes; it changes the clips at its end.
    await lockProject(id, transaction);
    expect((await post(`clips/${ids.get('a.wav')}/writings`, { repair: fillFrom(1, 2) })).status).toBe(201);
    await client.upload(id, 'b.wav', wavBytes(SOUNDS.same));
  });
  await client.settled(id, 2);
  await until(async () => (await index(id)).entries.some(({ standing }) => standing === 'written'));
});
