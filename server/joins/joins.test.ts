import { readFile, rm } from 'node:fs/promises';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { Joining } from '@pocket-twin/core/schema/joining.ts';
import { inTurn, mix, silence } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { INT24, wavBytes } from '@pocket-twin/media/test/files.ts';
import { ClipRow } from '../clips/clip.ts';
import { Client, until } from '../test/client.ts';
import { startTestServer } from '../test/testServer.ts';

let server: Awaited<ReturnType<typeof startTestServer>>;
let client: Client;
beforeAll(async () => {
  server = await startTestServer();
  client = new Client(server.origin);
});
afterAll(() => server.stop());

const VOICE = mix(chatter(0.1, 3, 1), noise(0.0004, 3, 3));

const call = async <Body>(method: string, path: string, body?: unknown): Promise<{ status: number; body: Body }> =>
  (await client.call(method, path, body)) as { status: number; body: Body };

test('a left and a right file become a clip like any other, in step; they themselves stay as they are', async () => {
  const id = await client.newProject();
  await client.upload(id, 'walk_L.wav', wavBytes([VOICE]));
  await client.upload(id, 'walk_R.wav', wavBytes([inTurn(silence(17), VOICE)]));
  const found = await client.settled(id, 2);
  const clipIds = ['walk_L.wav', 'walk_R.wav'].map((name) => found.find((clip) => clip.name === name)!.id);
  const forecast = await call<Joining>('POST', `projects/${id}/join-forecasts`, { clipIds, lineUp: false });
  expect(forecast.body).toMatchObject({ offsetsSamples: [0, 17], warnings: [{ code: 'comb-filtering' }] });
  const { status, body } = await call<Clip>('POST', `projects/${id}/joins`, { clipIds, lineUp: true });
  expect(status).toBe(201);
  expect(body).toMatchObject({
    name: 'walk.wav',
    joinedFrom: [
      { name: 'walk_L.wav', padFrames: 17 },
      { offsetSamples: 17, padFrames: 0 },
    ],
  });
  const joined = await until(async () => {
    const clip = (await call<Clip>('GET', `clips/${body.id}`)).body;
    return clip.state === 'ready' && clip;
  });
  expect(joined.inspection).toMatchObject({ verdict: 'dual-mono', format: { channels: 2, frames: VOICE.length + 17 } });
  expect((await call<Clip>('GET', `clips/${clipIds[0]}`)).body.inspection!.format.channels).toBe(1);

  // Lost before it was measured, as with a killed worker, the file is written anew from its parts, also from one that was taken out.
  const { sourcePath } = (await ClipRow.findByPk(body.id))!;
  const bytes = await readFile(sourcePath);
  await rm(sourcePath);
  await client.call('POST', `projects/${id}/clips/remove`, { clipIds: [clipIds[1]] });
  expect((await call('POST', `clips/${body.id}/measure`)).status).toBe(202);
  await until(async () => (await call<Clip>('GET', `clips/${body.id}`)).body.state === 'ready');
  expect((await readFile(sourcePath)).equals(bytes)).toBe(true);
});

test('clips that can’t become one are told in one sentence, and nothing is made', async () => {
  const id = await client.newProject();
  await client.upload(id, 'a.wav', wavBytes([VOICE]));
  await client.upload(id, 'b.wav', wavBytes([VOICE], INT24, [], 44_100));
  const clipIds = (await client.settled(id, 2)).map((clip) => clip.id);
  const refused = await call('POST', `projects/${id}/joins`, { clipIds, lineUp: true });
  expect(refused.status).toBe(400);
  expect(JSON.stringify(refused.body)).toMatch(
    /has 48000 samples a second and .* has 44100|has 44100 samples a second and .* has 48000/,
  );
  expect((await call('POST', `projects/${id}/joins`, { clipIds: [clipIds[0], clipIds[0]], lineUp: true })).status).toBe(
    400,
  );
  expect((await call('POST', `projects/${id}/joins`, { clipIds: [clipIds[0]], lineUp: true })).status).toBe(400);
  expect(await client.settled(id, 2)).toHaveLength(2);
});
