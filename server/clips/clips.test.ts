import { request } from 'node:http';
import { fillFrom, leaveAsItIs, selectChannel } from '@pocket-twin/core/repair/plan/plans.ts';
import { Evidence } from '@pocket-twin/core/schema/evidence.ts';
import { ServerEvent } from '@pocket-twin/core/contract/events.ts';
import { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import { NOTHING_TO_FIND } from '@pocket-twin/core/schema/proposal.ts';
import { Writing } from '@pocket-twin/core/schema/writing.ts';
import { delayed } from '@pocket-twin/core/synth/filters.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { wavBytes } from '@pocket-twin/media/test/files.ts';
import { ClipRow } from './clip.ts';
import { Client, until } from '../test/client.ts';
import { startTestServer } from '../test/testServer.ts';

let server: Awaited<ReturnType<typeof startTestServer>>;
let client: Client;
beforeAll(async () => {
  server = await startTestServer();
  client = new Client(server.origin);
});
afterAll(() => server.stop());

const LEFT = chatter(0.1, 2, 1);
const RIGHT = noise(0.0008, 2, 2);

test('from upload to a repaired file whose bytes are the left side’s, announced on the way', async () => {
  const projectId = await client.newProject();
  const events: ServerEvent[] = [];
  const listening = request(`${server.origin}/api/events`, (answer) => {
    answer.on('data', (bytes: Buffer) => {
      for (const [, data] of bytes.toString().matchAll(/^data: (.*)$/gm))
        events.push(ServerEvent.parse(JSON.parse(data)));
    });
  });
  listening.end();
  await client.upload(projectId, 'one side.wav', wavBytes([LEFT, RIGHT]));
  const [clip] = await client.settled(projectId, 1);
  expect(clip).toMatchObject({
    name: 'one side.wav',
    state: 'ready',
    inspection: { verdict: 'one-sided', suggestion: { action: 'fill', from: 1 } },
  });
  expect(clip.sketch).toHaveLength(2);

  expect((await client.call('PUT', `clips/${clip.id}/repair`, { repair: fillFrom(1, 2) })).status).toBe(200);
  expect((await client.call('POST', `clips/${clip.id}/writings`)).status).toBe(201);
  const writing = await until(async () => {
    const [newest] = Writing.array().parse((await client.call('GET', `clips/${clip.id}/writings`)).body);
    return newest.state === 'done' && newest;
  });
  expect(writing.receipt!.files[0]).toMatchObject({
    name: 'one side-repaired.wav',
    exact: true,
    proof: { comparedFrames: LEFT.length, differingFrames: 0 },
  });
  const file = await fetch(`${server.origin}/api/writings/${writing.id}/files/0`);
  expect(file.headers.get('Content-Disposition')).toContain('one side-repaired.wav');
  expect(Buffer.from(await file.arrayBuffer()).equals(wavBytes([LEFT, LEFT]))).toBe(true);
  // Told together with what came within a moment.
  await until(() => Promise.resolve(['clips', 'writing'].every((kind) => events.some((event) => event.kind === kind))));
  listening.destroy();
});

test('evidence is gathered for any two channels and any stretch, and refused in a sentence where there is none', async () => {
  const projectId = await client.newProject();
  await client.upload(projectId, 'copy.wav', wavBytes([LEFT, LEFT.map((x) => -x / 2), RIGHT]));
  const [clip] = await client.settled(projectId, 1);
  expect(clip).toMatchObject({ inspection: { verdict: 'multichannel', duplicates: [[1, 2]] } });
  const whole = Evidence.parse((await client.call('GET', `clips/${clip.id}/evidence?left=1&right=2`)).body);
  expect(whole.match).toMatchObject({
    polarity: 'inverted',
    gainDb: expect.closeTo(-6.02, 1),
    delaySamples: expect.closeTo(0, 1),
  });
  expect(whole.match!.matchedNullDb).toBeLessThan(-60);
  const part = Evidence.parse(
    (await client.call('GET', `clips/${clip.id}/evidence?left=1&right=3&startSeconds=0.5&endSeconds=1.5`)).body,
  );
  expect(part).toMatchObject({ channels: [1, 3], startSeconds: 0.5, endSeconds: 1.5 });
  expect(part.match?.matchedNullDb ?? 0).toBeGreaterThan(-6);
  expect((await client.call('GET', `clips/${clip.id}/evidence?left=1&right=9`)).body).toMatchObject({
    status: 409,
    title: 'copy.wav has 3 channels.',
  });
});

test('bad files get their sentence and the good one goes on', async () => {
  const projectId = await client.newProject();
  await client.upload(projectId, 'notes.wav', Buffer.from('only words'));
  await client.upload(projectId, 'empty.wav', Buffer.alloc(0));
  await client.upload(projectId, '../../etc/good.wav', wavBytes([LEFT, LEFT]));
  const clips = await client.settled(projectId, 3);
  const errorOf = (name: string): string | null => clips.find((clip) => clip.name === name)!.error;
  expect(errorOf('notes.wav')).toMatch(/^notes\.wav is a text file inside/);
  expect(errorOf('empty.wav')).toMatch(/^empty\.wav is empty/);
  expect(clips.find(({ name }) => name === 'good.wav')).toMatchObject({
    state: 'ready',
    inspection: { verdict: 'dual-mono' },
  });
});

test('undo and redo walk along the kept repairs; a new one ends the redo', async () => {
  const projectId = await client.newProject();
  await client.upload(projectId, 'a.wav', wavBytes([LEFT, RIGHT]));
  const [{ id }] = await client.settled(projectId, 1);
  const keep = (channel: number) => client.call('PUT', `clips/${id}/repair`, { repair: selectChannel(channel, 2) });
  const step = async (way: string) => Clip.parse((await client.call('POST', `clips/${id}/repair/${way}`)).body);
  await keep(1);
  await keep(2);
  expect(await step('undo')).toMatchObject({ repair: selectChannel(1, 2), canUndo: true, canRedo: true });
  expect(await step('undo')).toMatchObject({ repair: null, canUndo: false });
  expect((await client.call('POST', `clips/${id}/repair/undo`)).status).toBe(409);
  expect(await step('redo')).toMatchObject({ repair: selectChannel(1, 2) });
  // The same once more is no step of its own; another one is, and ends the redo.
  await keep(1);
  expect((await client.clipsOf(projectId))[0]).toMatchObject({ canRedo: true });
  await client.call('PUT', `clips/${id}/repair`, { repair: fillFrom(1, 2) });
  expect((await client.call('POST', `clips/${id}/repair/redo`)).body).toMatchObject({
    title: 'There is nothing to redo.',
    status: 409,
  });
  expect((await client.call('PUT', `clips/${id}/repair`, { repair: selectChannel(3, 4) })).status).toBe(409);
  expect((await client.call('PUT', `clips/${id}/repair`, { repair: { version: 2 } })).status).toBe(400);
});

test('samples and outline come as they are in the file', async () => {
  const projectId = await client.newProject();
  await client.upload(projectId, 'a.wav', wavBytes([LEFT, RIGHT]));
  const [{ id }] = await client.settled(projectId, 1);
  const bytes = await (await fetch(`${server.origin}/api/clips/${id}/samples?start=1000&frames=10`)).arrayBuffer();
  const samples = new Float32Array(bytes);
  expect(samples).toHaveLength(20);
  expect(samples[0]).toBeCloseTo(LEFT[1000], 6);
  expect(samples[10]).toBeCloseTo(RIGHT[1000], 6);
  expect((await fetch(`${server.origin}/api/clips/${id}/samples?start=0&frames=99999999`)).status).toBe(400);
  expect((await client.call('DELETE', `clips/${id}`)).status).toBe(204);
  expect(await client.clipsOf(projectId)).toEqual([]);
});

test('another page, another name for this machine and unknown addresses are turned away', async () => {
  const raw = (headers: Record<string, string>, path = '/api/projects') =>
    new Promise<number>((resolve) => {
      request(`${server.origin}${path}`, { headers }, (answer) => {
        answer.resume();
        resolve(answer.statusCode!);
      }).end();
    });
  expect(await raw({ Host: 'evil.example' })).toBe(403);
  expect(await raw({ Host: `127.0.0.1:${server.port}`, Origin: 'http://evil.example' })).toBe(403);
  expect(await raw({ Host: `localhost:${server.port}`, Origin: `http://localhost:${server.port}` })).toBe(200);
  expect(await raw({}, '/api/nothing')).toBe(404);
  expect(await raw({}, '/api/clips/..%2f..%2fetc')).toBe(404);
});

test('a clip that an earlier version measured can be worked on: what it did not tell is nothing', async () => {
  const projectId = await client.newProject();
  await client.upload(projectId, 'late.wav', wavBytes([LEFT, delayed(LEFT, 48)]));
  const [clip] = await client.settled(projectId, 1);
  expect(clip.inspection!.suggestion.action).toBe('align');
  const older = JSON.stringify(clip.inspection, (key, value: unknown) =>
    ['mixes', 'driftPpm', 'jump', 'sway', 'exchange'].includes(key) ? undefined : value,
  );
  await ClipRow.update({ inspection: JSON.parse(older) as Inspection }, { where: { id: clip.id } });
  const base = leaveAsItIs(2);
  const turns = await client.call('POST', `clips/${clip.id}/proposals`, {
    base,
    finds: { ...NOTHING_TO_FIND, turns: 'centred' },
  });
  expect([turns.status, turns.body]).toEqual([200, { whyNot: expect.stringContaining('Turns need two microphones') }]);
  const kept = await client.call('POST', `projects/${projectId}/suggestions`, { clipIds: [clip.id], suggestion: null });
  expect(kept.status).toBe(200);
  const [after] = await client.settled(projectId, 1);
  expect(after.repair!.trims).toEqual([{ channel: 1, gainDb: 0, polarity: 'normal', delaySamples: 48 }]);
});
