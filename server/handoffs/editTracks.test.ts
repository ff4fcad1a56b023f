import { mkdir, readdir, readFile, rm, stat, utimes, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { readOtio } from '@pocket-twin/core/edit/otio/otioEdit.ts';
import { splitToMonos } from '@pocket-twin/core/repair/plan/plans.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type {
  Handoff,
  HandoffDetail,
  HandoffForecast,
  HandoffWanted,
  Verified,
} from '@pocket-twin/core/schema/handoff.ts';
import { mix } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { scratchFolder, wavBytes } from '@pocket-twin/media/test/files.ts';
import { Client, until } from '../test/client.ts';
import { startTestServer } from '../test/testServer.ts';

// What becomes of the edit, over HTTP: forecast event by event, parallel tracks or the old ones, proof, and a folder that is handed off into twice.

let server: Awaited<ReturnType<typeof startTestServer>>;
let client: Client;
let target: string;
let card: string;
let projectId: string;
let clips: Clip[];
const VOICE = mix(chatter(0.1, 3, 1), noise(0.0004, 3, 3));
const OTHER = mix(chatter(0.1, 3, 9), noise(0.0004, 3, 5));

const call = async <Body>(method: string, path: string, body?: unknown): Promise<Body> =>
  ((await client.call(method, path, body)) as { body: Body }).body;

beforeAll(async () => {
  const media = await scratchFolder();
  target = await scratchFolder();
  server = await startTestServer({ mediaFolders: [media], handoffFolders: [target] });
  client = new Client(server.origin);
  card = join(media, 'card');
  await mkdir(card);
  await writeFile(join(card, 'talk.wav'), wavBytes([VOICE, OTHER]));
  await writeFile(join(card, 'deck.wav'), wavBytes([VOICE, noise(0.0006, 3, 2)]));
  await writeFile(join(card, 'gone.wav'), wavBytes([VOICE]));
  projectId = await client.newProject();
  await call('POST', `projects/${projectId}/links`, { folder: 0, paths: ['card'] });
  clips = await client.settled(projectId, 3);
  await call('PUT', `clips/${idOf('talk.wav')}/repair`, { repair: splitToMonos(2) });
  await call('POST', `projects/${projectId}/suggestions`, { clipIds: [idOf('deck.wav')], suggestion: null });
  const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate: 25 });
  const clip = (name: string) => ({
    ...{
      OTIO_SCHEMA: 'Clip.1',
      name,
      media_reference: { OTIO_SCHEMA: 'ExternalReference.1', target_url: join(card, name) },
    },
    source_range: { OTIO_SCHEMA: 'TimeRange.1', start_time: time(5), duration: time(50) },
  });
  const children = [clip('talk.wav'), clip('deck.wav')];
  const text = JSON.stringify({
    OTIO_SCHEMA: 'Timeline.1',
    tracks: { OTIO_SCHEMA: 'Stack.1', children: [{ OTIO_SCHEMA: 'Track.1', kind: 'Audio', name: 'A', children }] },
  });
  await call('PUT', `projects/${projectId}/edit`, { fileName: 'film.otio', text });
});
afterAll(() => server.stop());

const idOf = (name: string): string => clips.find((clip) => clip.name === name)!.id;
const wantedFor = (name: string, more: Partial<HandoffWanted> = {}): Partial<HandoffWanted> => ({
  name,
  place: { kind: 'folder', root: 0, path: '' },
  ...more,
});
const forecast = (wanted: Partial<HandoffWanted>): Promise<HandoffForecast> =>
  call('POST', `projects/${projectId}/handoff-forecasts`, wanted);
async function handOff(wanted: Partial<HandoffWanted>): Promise<HandoffDetail> {
  const { id } = await call<Handoff>('POST', `projects/${projectId}/handoffs`, wanted);
  return until(async () => {
    const handoff = await call<HandoffDetail>('GET', `handoffs/${id}`);
    return handoff.state === 'done' && handoff;
  });
}
const targetsIn = async (folder: string): Promise<(string | null)[]> =>
  readOtio(await readFile(join(folder, 'film.otio'), 'utf8'), 'film.otio').events.map(({ target: one }) => one);

test('what the edit uses keeps its tracks; as repaired, a clip that was split lies on two, forecast and proven', async () => {
  const same = await forecast(wantedFor('Same'));
  expect(same.edit).toMatchObject({ name: 'film.otio', addedTracks: 0 });
  expect(same.edit!.events.map(({ state }) => state)).toEqual(['same', 'repaired']);
  expect(same.files.find(({ name }) => name === 'talk.wav')!.paths).toEqual(['card/talk.wav']);
  const wanted = wantedFor('Repaired', { tracks: 'repaired', markers: true });
  const seen = await forecast(wanted);
  expect(seen.edit).toMatchObject({ addedTracks: 1 });
  const [talk] = seen.edit!.events;
  expect(talk).toMatchObject({ state: 'relaid', streams: [2], lost: [], clipId: idOf('talk.wav') });
  expect(talk.files.map(({ path, streams }) => [path, streams])).toEqual([
    ['card/talk-left.wav', [[[1]]]],
    ['card/talk-right.wav', [[[2]]]],
  ]);
  const done = await handOff(wanted);
  const folder = join(target, 'Repaired');
  expect(done.edit).toMatchObject({
    events: 2,
    matched: 2,
    replaced: 2,
    loses: [],
    proof: { faults: [], unresolved: [] },
  });
  expect(done.edit!.proof!.soundingSeconds).toBeGreaterThan(1);
  expect(await targetsIn(folder)).toEqual(
    ['talk-left.wav', 'deck.wav', 'talk-right.wav'].map((name) => join(folder, 'card', name)),
  );
  expect(await readFile(join(folder, 'markers.csv'), 'utf8')).toContain('Only the left side carries');
  expect(await readFile(join(folder, 'film.otio'), 'utf8')).toContain('Marker.2');
});

test('a second handoff into the same folder leaves what the first replaced, and verifies as one', async () => {
  const name = 'Twice';
  await handOff(wantedFor(name, { tracks: 'repaired', clipIds: [idOf('talk.wav')] }));
  const folder = join(target, name);
  expect(await targetsIn(folder)).toEqual([
    join(folder, 'card/talk-left.wav'),
    join(card, 'deck.wav'),
    join(folder, 'card/talk-right.wav'),
  ]);
  const again = await handOff(wantedFor(name, { tracks: 'repaired', clipIds: [idOf('deck.wav')] }));
  expect(again.edit).toMatchObject({ events: 2, replaced: 2, proof: { faults: [], unresolved: [] } });
  expect(await targetsIn(folder)).toEqual(
    ['talk-left.wav', 'deck.wav', 'talk-right.wav'].map((one) => join(folder, 'card', one)),
  );
  expect((await readdir(join(folder, 'card'))).filter((one) => one.endsWith('.wav')).sort()).toEqual([
    'deck.wav',
    'talk-left.wav',
    'talk-right.wav',
  ]);
  const verified = await call<Verified>('POST', `handoffs/${again.id}/verification`);
  expect(verified).toMatchObject({ changed: [], missing: [], unnamed: [] });
  expect(verified.files).toBeGreaterThanOrEqual(9);
});

test('a file that was replaced by another of its size and date is never called proven', async () => {
  const path = join(card, 'deck.wav');
  const { atime, mtime } = await stat(path);
  const before = await readFile(path);
  await writeFile(path, wavBytes([OTHER, noise(0.0006, 3, 2)]));
  await utimes(path, atime, mtime);
  const done = await handOff(wantedFor('Other', { clipIds: [idOf('deck.wav')], withEdit: false }));
  expect(done.list).toEqual([
    expect.objectContaining({ state: 'failed', proof: null, error: expect.stringContaining('holds something else') }),
  ]);
  expect((await readdir(join(target, 'Other')).catch(() => [])).filter((name) => name.endsWith('.wav'))).toEqual([]);
  await writeFile(path, before);
  await utimes(path, atime, mtime);
});

test('a channel that speaks by itself and is left out is told, and a file that has gone waits and is not counted', async () => {
  await call('PUT', `clips/${idOf('talk.wav')}/repair`, {
    repair: { ...splitToMonos(2), action: 'select', outputs: [{ ...splitToMonos(2).outputs[0], suffix: '' }] },
  });
  await rm(join(card, 'gone.wav'));
  const seen = await forecast(wantedFor('Loses'));
  expect(seen.edit!.events[0]).toMatchObject({ state: 'loses', lost: [2] });
  expect(seen.undecided).toEqual([
    expect.objectContaining({ name: 'gone.wav', why: expect.stringContaining('no longer where it was') }),
  ]);
  expect(seen.files.map(({ name }) => name).sort()).toEqual(['deck.wav', 'talk.wav']);
  const done = await handOff(wantedFor('Loses'));
  expect(done.list).toHaveLength(seen.files.length);
  expect(done.edit!.loses).toEqual([join(card, 'talk.wav')]);
});
