import { execFileSync, spawnSync } from 'node:child_process';
import { link, mkdir, readdir, readFile, rename, rm, symlink, writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type {
  Handoff,
  HandoffDetail,
  HandoffForecast,
  HandoffWanted,
  Verified,
} from '@pocket-twin/core/schema/handoff.ts';
import { later, mix } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { scratchFolder, wavBytes } from '@pocket-twin/media/test/files.ts';
import { smallDisk } from '@pocket-twin/media/test/troubledDisk.ts';
import { queueOpenRows } from '../openRows.ts';
import { createLog } from '../platform/log.ts';
import { Client, until } from '../test/client.ts';
import { startTestServer } from '../test/testServer.ts';
import { HandoffRow } from './handoff.ts';
import { HandoffFileRow } from './handoffFile.ts';
import { writeHandoffFile } from './writeHandoffFile.ts';

// A whole shoot into the edit, over HTTP: forecast, files under their names with proof, receipts, checksums; stopped, held and gone on with.

let server: Awaited<ReturnType<typeof startTestServer>>;
let client: Client;
let media: string;
let target: string;
let disk: Awaited<ReturnType<typeof smallDisk>>;
beforeAll(async () => {
  media = await scratchFolder();
  target = await scratchFolder();
  disk = await smallDisk(12);
  server = await startTestServer({ mediaFolders: [media], handoffFolders: [target, media, disk.folder] });
  client = new Client(server.origin);
});
afterAll(async () => {
  await server.stop();
  disk.remove();
});

const VOICE = mix(chatter(0.1, 3, 1), noise(0.0004, 3, 3));
const HISS = noise(0.0006, 3, 2);
const ONE_SIDED = wavBytes([VOICE, HISS]);
const MONO = wavBytes([VOICE]);

const call = async <Body>(method: string, path: string, body?: unknown): Promise<{ status: number; body: Body }> =>
  (await client.call(method, path, body)) as { status: number; body: Body };

/** Clips that lie in a folder of their own on the media disk. */
async function shoot(files: Record<string, Buffer>): Promise<{ projectId: string; card: string; clips: Clip[] }> {
  const card = `card-${Math.random().toString(36).slice(2, 8)}`;
  for (const [name, bytes] of Object.entries(files)) {
    await mkdir(join(media, card, name, '..'), { recursive: true });
    await writeFile(join(media, card, name), bytes);
  }
  const projectId = await client.newProject();
  await call('POST', `projects/${projectId}/links`, { folder: 0, paths: [card] });
  return { projectId, card: join(media, card), clips: await client.settled(projectId, Object.keys(files).length) };
}

const useSuggestions = (projectId: string, clips: Clip[]) =>
  call('POST', `projects/${projectId}/suggestions`, { clipIds: clips.map(({ id }) => id), suggestion: null });

const wantedFor = (name: string, more: Partial<HandoffWanted> = {}): Partial<HandoffWanted> => ({
  name,
  place: { kind: 'folder', root: 0, path: '' },
  ...more,
});
const forecast = async (projectId: string, wanted: Partial<HandoffWanted>): Promise<HandoffForecast> =>
  (await call<HandoffForecast>('POST', `projects/${projectId}/handoff-forecasts`, wanted)).body;
const begin = (projectId: string, wanted: Partial<HandoffWanted>) =>
  call<Handoff & { title: string }>('POST', `projects/${projectId}/handoffs`, wanted);
const detailOf = async (id: string): Promise<HandoffDetail> =>
  (await call<HandoffDetail>('GET', `handoffs/${id}`)).body;
const when = (id: string, isSo: (handoff: HandoffDetail) => boolean): Promise<HandoffDetail> =>
  until(async () => {
    const handoff = await detailOf(id);
    return isSo(handoff) && handoff;
  });
const over = (id: string): Promise<HandoffDetail> => when(id, ({ state }) => state === 'done' || state === 'cancelled');

test('a shoot is forecast, written under its own names, proven, and checked by standard tools', async () => {
  const { projectId, clips } = await shoot({
    'deck.wav': ONE_SIDED,
    'day 2/deck.wav': ONE_SIDED,
    'day 2/mono.wav': MONO,
    'day 2/open.wav': ONE_SIDED,
  });
  const named = (name: string): Clip => clips.find((clip) => clip.name === name)!;
  await useSuggestions(
    projectId,
    clips.filter(({ name }) => name === 'deck.wav'),
  );
  const wanted = wantedFor('Ferry film');
  const seen = await forecast(projectId, wanted);
  expect(seen).toMatchObject({ folder: join(target, 'Ferry film'), problem: null, leftOut: [] });
  expect(seen.undecided).toEqual([
    { clipId: named('open.wav').id, name: 'open.wav', why: '“Fill right from left” is suggested.' },
  ]);
  const { status, body } = await begin(projectId, wanted);
  expect(status).toBe(201);
  const done = await over(body.id);
  expect(done).toMatchObject({ state: 'done', files: { done: 3, failed: 0, waiting: 0 }, said: null });
  // What was forecast is what came.
  expect(done.list.map(({ paths }) => paths)).toEqual(seen.files.map(({ paths }) => paths));
  const folder = join(target, 'Ferry film');
  const written = done.list.map(({ paths }) => paths[0]);
  expect(written.map((path) => basename(path)).sort()).toEqual(['deck.wav', 'deck.wav', 'mono.wav']);
  expect(
    (
      await readFile(
        join(
          folder,
          written.find((path) => path.endsWith('mono.wav'))!,
        ),
      )
    ).equals(MONO),
  ).toBe(true);
  const filled = done.list.find(({ name }) => name === 'deck.wav')!;
  expect(filled).toMatchObject({ what: 'Fill right from left', proof: 'every sample is one that was read' });
  expect(filled.conform.find(({ what }) => what === 'frames')).toMatchObject({ equal: true, old: VOICE.length });
  const data = await readFile(join(folder, filled.paths[0]));
  expect(data.subarray(data.indexOf('data') + 8).equals(wavBytes([VOICE, VOICE]).subarray(44))).toBe(true);
  expect(spawnSync('sha256sum', ['-c', '--quiet', 'manifest.sha256'], { cwd: folder }).status).toBe(0);
  expect(await readdir(folder)).toEqual(
    expect.arrayContaining(['receipt.html', 'receipts', 'manifest.sha256', 'manifest.mhl']),
  );
  expect((await readdir(folder)).filter((name) => name.startsWith('.'))).toEqual([]);
  // The lineup counts them as written, and the receipt opens with nothing running in it.
  const states = (await client.rowsOf(projectId)).map(({ name, standing }) => [name, standing]);
  expect(states.filter(([name]) => name === 'deck.wav')).toEqual([
    ['deck.wav', 'written'],
    ['deck.wav', 'written'],
  ]);
  const page = await fetch(`${server.origin}/api/handoffs/${body.id}/receipt`);
  expect([page.status, page.headers.get('Content-Security-Policy')]).toEqual([200, expect.stringContaining('sandbox')]);
  expect(await page.text()).toContain('Fill right from left');
  const verified = async () => (await call<Verified>('POST', `handoffs/${body.id}/verification`)).body;
  expect(await verified()).toMatchObject({ changed: [], missing: [] });
  await writeFile(join(folder, filled.paths[0]), 'other');
  expect(await verified()).toMatchObject({ changed: [filled.paths[0]], missing: [] });
  // Handed off once more it takes its own place, and nothing gets a number.
  const again = await over((await begin(projectId, wanted)).body.id);
  expect(again.list.map(({ paths }) => paths)).toEqual(seen.files.map(({ paths }) => paths));
  expect(await verified()).toMatchObject({ changed: [], missing: [] });
});

test('names: clashes get a number, what systems refuse is replaced, patterns are filled, and all of it is told before', async () => {
  const { projectId, clips } = await shoot({
    'Take.wav': MONO,
    'sub/take.wav': MONO,
    'sub/TAKE.WAV': MONO,
    'sub/con.wav': MONO,
    'sub/what?.wav': MONO,
    [`sub/${'ä'.repeat(120)}.wav`]: MONO,
  });
  const clash = await forecast(projectId, wantedFor('Flat', { pattern: '{name}' }));
  const paths = clash.files.flatMap((file) => file.paths);
  expect(new Set(paths.map((path) => path.toLowerCase())).size).toBe(6);
  expect(paths.some((path) => /take \(2\)\.wav$/i.test(path))).toBe(true);
  for (const path of paths) {
    expect(Buffer.byteLength(basename(path))).toBeLessThan(256);
    expect(path).not.toMatch(/[?<>:"|*\\]/);
  }
  expect(paths.some((path) => /_con\.wav$/.test(path))).toBe(true);
  expect(clash.files.flatMap(({ notes }) => notes).filter((note) => /is taken/.test(note)).length).toBeGreaterThan(0);
  const off = wantedFor('Off', { pattern: '{nome}' });
  expect((await forecast(projectId, off)).problem).toContain('{nome}');
  expect(await begin(projectId, off)).toMatchObject({
    status: 409,
    body: { title: expect.stringContaining('{nome}') },
  });
  const packed = wantedFor('Packed', { format: 'flac', bits: '32f' });
  expect((await forecast(projectId, packed)).problem).toContain('FLAC holds whole numbers');
  const some = await forecast(projectId, wantedFor('Some', { clipIds: [clips[0].id], pattern: '{setup} {name}' }));
  expect(some.files.length).toBe(1);
  expect(some.files[0].paths[0]).toContain(clips[0].name.replace(/\.wav$/i, ''));
});

test('an intake rule that a person set decides for clips without a repair of their own, and is said', async () => {
  const { projectId } = await shoot({ 'pair.wav': wavBytes([VOICE, VOICE]), 'mono.wav': MONO });
  const clip = await until(async () =>
    (await client.clipsOf(projectId)).find(({ name, setupId }) => name === 'mono.wav' && setupId !== null),
  );
  const setups = (await client.lineupOf(projectId)).setups;
  await call('PATCH', `projects/${projectId}/setups/${setups.find(({ id }) => id === clip.setupId)!.id}`, {
    intake: 'stereo-pair',
  });
  const seen = await forecast(projectId, wantedFor('Intake', { clipIds: [clip.id] }));
  expect(seen.files[0]).toMatchObject({
    what: 'Channel 1 on both sides',
    notes: [expect.stringContaining('By the rule of its setup')],
  });
  const done = await over((await begin(projectId, wantedFor('Intake', { clipIds: [clip.id] }))).body.id);
  const probed = execFileSync(
    '/usr/bin/ffprobe',
    [
      '-v',
      'error',
      '-show_entries',
      'stream=channels',
      '-of',
      'csv=p=0',
      join(target, 'Intake', done.list[0].paths[0]),
    ],
    { encoding: 'utf8' },
  );
  expect(probed.trim()).toBe('2');
});

test('a left and a right that a person put together become one file, in step, and the edit has both', async () => {
  const right = later(VOICE, 17);
  const { projectId, clips } = await shoot({ 'walk_L.wav': MONO, 'walk_R.wav': wavBytes([right]) });
  const named = (name: string): string => clips.find((clip) => clip.name === name)!.id;
  const [leftId, rightId] = [named('walk_L.wav'), named('walk_R.wav')];
  // Asked about when setups are formed.
  await until(async () => (await client.lineupOf(projectId)).pairs.length === 1);
  const apart = await forecast(projectId, wantedFor('Pair'));
  expect(apart.files.map(({ what }) => what)).toEqual(['As it is', 'As it is']);
  await call('POST', `projects/${projectId}/pairs`, { leftId, rightId, accept: true });
  const seen = await forecast(projectId, wantedFor('Pair'));
  expect(seen.files).toMatchObject([
    {
      what: 'Left and right as one',
      notes: [expect.stringContaining('one stereo file')],
      paths: [expect.stringMatching(/walk\.wav$/)],
    },
  ]);
  const done = await over((await begin(projectId, wantedFor('Pair'))).body.id);
  expect(done).toMatchObject({ files: { done: 1, failed: 0 } });
  const bytes = await readFile(join(target, 'Pair', done.list[0].paths[0]));
  const body = bytes.subarray(bytes.indexOf('data') + 8);
  // Word for word: the left waits for the right.
  const sides = wavBytes([later(VOICE, 17), right]).subarray(44);
  expect(body.subarray(0, sides.length).equals(sides)).toBe(true);
});

test.each([
  [
    'a path that leads out',
    { place: { kind: 'folder', root: 0, path: '../elsewhere' } },
    /can’t be the name of a folder/,
  ],
  ['a folder that nobody allowed', { place: { kind: 'folder', root: 7, path: '' } }, /not among those/],
  [
    'a link that leads out',
    { place: { kind: 'folder', root: 0, path: 'shortcut' } },
    /not in a folder that files may be handed off into/,
  ],
])('%s is refused in a sentence, and nothing is written', async (_, more, sentence) => {
  const outside = await scratchFolder();
  await rm(join(target, 'shortcut'), { force: true });
  await symlink(outside, join(target, 'shortcut'));
  const { projectId } = await shoot({ 'mono.wav': MONO });
  const wanted = wantedFor('Out', more as Partial<HandoffWanted>);
  expect((await forecast(projectId, wanted)).problem).toMatch(sentence);
  expect(await begin(projectId, wanted)).toMatchObject({
    status: 409,
    body: { title: expect.stringMatching(sentence) },
  });
  expect(await readdir(outside)).toEqual([]);
});

test('beside the originals: a folder of its own, and never over one of them, whatever links say', async () => {
  const { projectId, card } = await shoot({ 'a.wav': MONO, 'sub/b.wav': MONO });
  const beside = wantedFor('For the edit', { place: { kind: 'beside' } });
  const seen = await forecast(projectId, beside);
  expect(seen).toMatchObject({ folder: join(card, 'For the edit'), problem: null });
  await over((await begin(projectId, beside)).body.id);
  const [file] = seen.files;
  // A hard link to the original under the very name that is wanted.
  await rm(join(seen.folder!, file.paths[0]));
  await link(join(card, 'a.wav'), join(seen.folder!, file.paths[0]));
  expect((await forecast(projectId, beside)).problem).toContain('is an original');
  expect((await readFile(join(card, 'a.wav'))).equals(MONO)).toBe(true);
});

test('an archive is streamed while it is written, holds the same bytes, and can be checked', async () => {
  const { projectId, clips } = await shoot({ 'deck.wav': ONE_SIDED, 'sub/mono.wav': MONO });
  await useSuggestions(projectId, clips);
  const { body } = await begin(projectId, wantedFor('Parcel', { place: { kind: 'download' } }));
  expect(body.folder).not.toBeNull();
  // Asked for at once: it ends when the handoff does.
  const answer = await fetch(`${server.origin}/api/handoffs/${body.id}/archive`);
  expect(answer.headers.get('Content-Disposition')).toContain('Parcel.zip');
  const folder = await scratchFolder();
  await writeFile(join(folder, 'parcel.zip'), Buffer.from(await answer.arrayBuffer()));
  execFileSync('python3', ['-m', 'zipfile', '-e', 'parcel.zip', '.'], { cwd: folder });
  expect(spawnSync('sha256sum', ['-c', '--quiet', 'manifest.sha256'], { cwd: join(folder, 'Parcel') }).status).toBe(0);
  const { list } = await detailOf(body.id);
  const mono = list.find(({ name }) => name === 'mono.wav')!.paths[0];
  expect((await readFile(join(folder, 'Parcel', mono))).equals(MONO)).toBe(true);
  expect((await call('DELETE', `handoffs/${body.id}`)).status).toBe(204);
  expect(await readdir(server.folders.packed)).not.toContain(body.id);
});

test('paused, the rest waits; gone on with, it is all there; cancelled, what is finished stays and nothing else is left', async () => {
  const files = Object.fromEntries(Array.from({ length: 20 }, (_, i) => [`take-${i + 1}.wav`, ONE_SIDED]));
  const { projectId, clips } = await shoot(files);
  await useSuggestions(projectId, clips);
  const { body } = await begin(projectId, wantedFor('Paused'));
  expect((await call('POST', `handoffs/${body.id}/steps`, { step: 'pause' })).status).toBe(200);
  const paused = await when(body.id, (handoff) => handoff.files.writing === 0);
  expect(paused.state).toBe('paused');
  expect(paused.files.waiting).toBeGreaterThan(0);
  expect(await call('POST', `handoffs/${body.id}/steps`, { step: 'try-failed' })).toMatchObject({ status: 409 });
  await call('POST', `handoffs/${body.id}/steps`, { step: 'go-on' });
  expect(await over(body.id)).toMatchObject({ state: 'done', files: { done: 20 } });
  expect(spawnSync('sha256sum', ['-c', '--quiet', 'manifest.sha256'], { cwd: join(target, 'Paused') }).status).toBe(0);

  const second = (await begin(projectId, wantedFor('Cancelled'))).body.id;
  await when(second, (handoff) => handoff.files.done > 0);
  await call('POST', `handoffs/${second}/steps`, { step: 'cancel' });
  const cancelled = await over(second);
  const folder = join(target, 'Cancelled');
  expect(cancelled.state).toBe(cancelled.files.cancelled > 0 ? 'cancelled' : 'done');
  const there = (await readdir(folder, { recursive: true })).filter((path) => path.endsWith('.wav'));
  expect(there.length).toBe(cancelled.files.done);
  expect((await readdir(folder)).filter((name) => name.startsWith('.'))).toEqual([]);
  expect(spawnSync('sha256sum', ['-c', '--quiet', 'manifest.sha256'], { cwd: folder }).status).toBe(0);
  // What was cancelled can be had after all.
  if (cancelled.files.cancelled > 0) {
    await call('POST', `handoffs/${second}/steps`, { step: 'try-failed' });
    expect(await over(second)).toMatchObject({ state: 'done', files: { done: 20 } });
  }
});

test('a job that found its handoff paused is over with that: going on a moment later finds the file without a job', async () => {
  const { projectId, clips } = await shoot({ 'take.wav': ONE_SIDED });
  await useSuggestions(projectId, clips);
  const { body } = await begin(projectId, wantedFor('Paused for a moment'));
  const { list } = await over(body.id);
  await HandoffRow.update({ state: 'paused' }, { where: { id: body.id } });
  await HandoffFileRow.update({ state: 'waiting' }, { where: { handoffId: body.id } });
  // As the queue gives it, but for that it is not marked as done after it.
  const left: string[] = [];
  await writeHandoffFile({ ...server, log: createLog('test') }, { fileId: list[0].id }, async (transaction) => {
    const row = await HandoffFileRow.findByPk(list[0].id, { transaction });
    left.push(row!.state);
  });
  expect(left).toEqual(['waiting']);
});

test('a file that has gone fails by itself, in a sentence, and can be tried again alone', async () => {
  const names = ['a.wav', 'b.wav', 'c.wav', 'd.wav', 'e.wav', 'gone.wav'];
  const { projectId, card, clips } = await shoot(Object.fromEntries(names.map((name) => [name, ONE_SIDED])));
  await useSuggestions(projectId, clips);
  const { body } = await begin(projectId, wantedFor('One gone'));
  await call('POST', `handoffs/${body.id}/steps`, { step: 'pause' });
  // It was there when the handoff began.
  await when(body.id, (handoff) => handoff.files.writing === 0);
  await rename(join(card, 'gone.wav'), join(media, 'elsewhere.wav'));
  await call('POST', `handoffs/${body.id}/steps`, { step: 'go-on' });
  const done = await over(body.id);
  expect(done.files).toMatchObject({ done: 5, failed: 1 });
  expect(done.list.find(({ state }) => state === 'failed')!.error).toMatch(/^gone\.wav is no longer at/);
  await rename(join(media, 'elsewhere.wav'), join(card, 'gone.wav'));
  expect((await call('POST', `handoffs/${body.id}/steps`, { step: 'try-failed' })).status).toBe(200);
  expect(await over(body.id)).toMatchObject({ files: { done: 6, failed: 0 } });
  expect(spawnSync('sha256sum', ['-c', '--quiet', 'manifest.sha256'], { cwd: join(target, 'One gone') }).status).toBe(
    0,
  );
});

test('a full disk holds it with what is missing; when there is room it goes on, and every file is whole', async () => {
  const { projectId } = await shoot(Object.fromEntries(Array.from({ length: 6 }, (_, i) => [`take-${i}.wav`, MONO])));
  const { body } = await begin(projectId, wantedFor('Full', { place: { kind: 'folder', root: 2, path: '' } }));
  await call('POST', `handoffs/${body.id}/steps`, { step: 'pause' });
  await when(body.id, ({ files }) => files.writing === 0);
  // Somebody else fills the disk meanwhile.
  await writeFile(join(disk.folder, 'big'), Buffer.alloc(12_000_000)).catch(() => undefined);
  await call('POST', `handoffs/${body.id}/steps`, { step: 'go-on' });
  const held = await when(body.id, ({ state }) => state === 'held');
  expect(held.said).toMatch(/^There is no room in .*Full: .* are missing\. It goes on by itself when there is room\.$/);
  expect(held.files).toMatchObject({ failed: 0 });
  await queueOpenRows(server);
  expect((await detailOf(body.id)).state).toBe('held');
  await rm(join(disk.folder, 'big'));
  const done = await until(async () => {
    await queueOpenRows(server);
    const now = await detailOf(body.id);
    return now.state === 'done' && now;
  });
  expect(done.files).toMatchObject({ done: 6, failed: 0 });
  const folder = join(disk.folder, 'Full');
  expect(spawnSync('sha256sum', ['-c', '--quiet', 'manifest.sha256'], { cwd: folder }).status).toBe(0);
  expect((await readdir(folder)).filter((name) => name.startsWith('.'))).toEqual([]);
});

test('a folder that went away holds it too, and nothing is made where it was', async () => {
  const { projectId, clips } = await shoot(
    Object.fromEntries(Array.from({ length: 12 }, (_, i) => [`take-${i}.wav`, ONE_SIDED])),
  );
  await useSuggestions(projectId, clips);
  const { body } = await begin(projectId, wantedFor('Share'));
  await call('POST', `handoffs/${body.id}/steps`, { step: 'pause' });
  await when(body.id, ({ files }) => files.writing === 0);
  await rename(join(target, 'Share'), join(target, 'Share away'));
  await call('POST', `handoffs/${body.id}/steps`, { step: 'go-on' });
  const held = await when(body.id, ({ state }) => state === 'held');
  expect(held.said).toContain('is not there any more');
  expect(await readdir(target)).not.toContain('Share');
  await rename(join(target, 'Share away'), join(target, 'Share'));
  await until(async () => {
    await queueOpenRows(server);
    return (await detailOf(body.id)).state === 'done';
  });
  expect(spawnSync('sha256sum', ['-c', '--quiet', 'manifest.sha256'], { cwd: join(target, 'Share') }).status).toBe(0);
});

test('an edit is read, matched, and written again with every time as it was and every file the new one', async () => {
  const { projectId, clips, card } = await shoot({ 'deck.wav': ONE_SIDED, 'mono.wav': MONO });
  await useSuggestions(projectId, clips);
  const range = (start: number, duration: number) => ({
    OTIO_SCHEMA: 'TimeRange.1',
    start_time: { OTIO_SCHEMA: 'RationalTime.1', value: start, rate: 25 },
    duration: { OTIO_SCHEMA: 'RationalTime.1', value: duration, rate: 25 },
  });
  const clip = (name: string, start: number, duration: number) => ({
    OTIO_SCHEMA: 'Clip.1',
    name,
    source_range: range(start, duration),
    media_reference: {
      OTIO_SCHEMA: 'ExternalReference.1',
      target_url: join(card, name),
      available_range: range(0, 75),
      metadata: {},
    },
    metadata: {},
  });
  const text = JSON.stringify({
    OTIO_SCHEMA: 'Timeline.1',
    name: 'Film',
    tracks: {
      OTIO_SCHEMA: 'Stack.1',
      children: [
        {
          OTIO_SCHEMA: 'Track.1',
          kind: 'Audio',
          children: [clip('deck.wav', 5, 20), clip('mono.wav', 10, 30), clip('lost.wav', 0, 5)],
        },
      ],
    },
  });
  const { status, body: edit } = await call<{
    matched: number;
    events: number;
    missing: string[];
    usedSeconds: Record<string, number>;
  }>('PUT', `projects/${projectId}/edit`, { fileName: 'film.otio', text });
  expect(status).toBe(200);
  expect(edit).toMatchObject({ events: 3, matched: 2, missing: [join(card, 'lost.wav')] });
  const idOf = (name: string): string => clips.find((one) => one.name === name)!.id;
  expect(Object.keys(edit.usedSeconds).length).toBe(2);
  expect(edit.usedSeconds[idOf('deck.wav')]).toBeCloseTo(0.8, 9);
  expect(edit.usedSeconds[idOf('mono.wav')]).toBeCloseTo(1.2, 9);
  const done = await over((await begin(projectId, wantedFor('Cut'))).body.id);
  expect(done.edit).toMatchObject({ name: 'film.otio', events: 3, matched: 2 });
  const written = JSON.parse(await readFile(join(target, 'Cut', 'film.otio'), 'utf8')) as never;
  const children = (written as { tracks: { children: { children: ReturnType<typeof clip>[] }[] } }).tracks.children[0]
    .children;
  expect(children.map(({ source_range }) => source_range)).toEqual([range(5, 20), range(10, 30), range(0, 5)]);
  expect(children[0].media_reference.target_url).toBe(
    join(target, 'Cut', done.list.find(({ name }) => name === 'deck.wav')!.paths[0]),
  );
  expect(children[2].media_reference.target_url).toBe(join(card, 'lost.wav'));
  // Only what is used: with a tenth of a second on both ends.
  const used = await over((await begin(projectId, wantedFor('Used', { handlesSeconds: 0.1 }))).body.id);
  const deck = used.list.find(({ name }) => name === 'deck.wav')!;
  const lengths = execFileSync(
    '/usr/bin/ffprobe',
    ['-v', 'error', '-show_entries', 'stream=duration', '-of', 'csv=p=0', join(target, 'Used', deck.paths[0])],
    { encoding: 'utf8' },
  );
  expect(Number(lengths)).toBeCloseTo(1, 3);
  expect(await call('PUT', `projects/${projectId}/edit`, { fileName: 'film.otio', text: 'no edit' })).toMatchObject({
    status: 400,
    body: { title: expect.stringContaining('film.otio') },
  });
  expect((await call('DELETE', `projects/${projectId}/edit`)).status).toBe(204);
});
