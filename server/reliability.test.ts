import { randomUUID } from 'node:crypto';
import fs, { readlinkSync } from 'node:fs';
import { access, mkdir, open, readFile, readdir, rename, rm, statfs, utimes, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import pg from 'pg';
import { contentHash } from '@pocket-twin/media/disk/contentHash.ts';
import { mix } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { scratchFolder, wavBytes } from '@pocket-twin/media/test/files.ts';
import { smallDisk } from '@pocket-twin/media/test/troubledDisk.ts';
import { ClipRow } from './clips/clip.ts';
import { inspectClip } from './clips/inspectClip.ts';
import { forgetRemoved } from './projects/forgetRemoved.ts';
import { WritingRow } from './writings/writing.ts';
import { queueOpenRows } from './openRows.ts';
import { createLog } from './platform/log.ts';
import { sweepHome } from './platform/home/sweepHome.ts';
import { Client, until } from './test/client.ts';
import { startTestServer } from './test/testServer.ts';

// Whatever is stopped between, what a person was told holds.

let server: Awaited<ReturnType<typeof startTestServer>>;
let client: Client;
let database: pg.Client;
let footage: string;
beforeAll(async () => {
  footage = await scratchFolder();
  server = await startTestServer({ mediaFolders: [footage] });
  client = new Client(server.origin);
  database = new pg.Client({ connectionString: server.databaseUrl });
  database.on('error', () => undefined);
  await database.connect();
});
afterAll(async () => {
  await database.end();
  await server.stop();
});

const VOICE = mix(chatter(0.1, 2, 1), noise(0.0005, 2, 3));
const oneSided = (seed = 2): Buffer => wavBytes([VOICE, noise(0.0008, 2, seed)]);
const encoded = (metadata: Record<string, string>): string =>
  Object.entries(metadata)
    .map(([key, value]) => `${key} ${Buffer.from(value).toString('base64')}`)
    .join(',');
const TUS = { 'Tus-Resumable': '1.0.0' };

function post(metadata: Record<string, string>, bytes: Buffer): Promise<Response> {
  return fetch(`${server.origin}/api/uploads`, {
    method: 'POST',
    headers: {
      ...TUS,
      'Upload-Length': String(bytes.length),
      'Upload-Metadata': encoded(metadata),
      'Content-Type': 'application/offset+octet-stream',
    },
    body: new Uint8Array(bytes),
  });
}

const clipsWith = async (projectId: string, name: string) =>
  (await client.clipsOf(projectId)).filter((clip) => clip.name === name);

test('asked for once more after a lost answer, an upload is the same upload and one clip', async () => {
  const projectId = await client.newProject();
  const [id, bytes] = [randomUUID(), oneSided()];
  const metadata = { id, filename: 'lost-answer.wav', projectId };
  expect((await post(metadata, bytes)).status).toBe(201);
  const again = await post(metadata, bytes);
  expect([again.status, again.headers.get('Location'), again.headers.get('Upload-Offset')]).toEqual([
    201,
    `/api/uploads/${id}`,
    String(bytes.length),
  ]);
  const head = await fetch(`${server.origin}/api/uploads/${id}`, { method: 'HEAD', headers: TUS });
  expect([head.status, head.headers.get('Upload-Offset'), head.headers.get('Upload-Length')]).toEqual([
    200,
    String(bytes.length),
    String(bytes.length),
  ]);
  const [clip, ...others] = await client.settled(projectId, 1);
  expect(others).toEqual([]);
  expect(clip.id).toBe(id);
  // Half of another one is there: it is gone on with from where it stands.
  const half = { id: randomUUID(), filename: 'half.wav', projectId };
  await fetch(`${server.origin}/api/uploads`, {
    method: 'POST',
    headers: { ...TUS, 'Upload-Length': String(bytes.length), 'Upload-Metadata': encoded(half) },
  });
  await fetch(`${server.origin}/api/uploads/${half.id}`, {
    method: 'PATCH',
    headers: { ...TUS, 'Upload-Offset': '0', 'Content-Type': 'application/offset+octet-stream' },
    body: new Uint8Array(bytes.subarray(0, 1000)),
  });
  expect((await post(half, bytes)).headers.get('Upload-Offset')).toBe('1000');
});

test.each(['before the file was moved', 'after the file was moved'])(
  'every byte is here and the server died %s: the clip is found, once',
  async (when) => {
    const projectId = await client.newProject();
    const [id, bytes] = [randomUUID(), oneSided()];
    const { folders } = server;
    // What the store leaves behind: its note, and the bytes.
    await writeFile(
      join(folders.uploads, `${id}.json`),
      JSON.stringify({
        id,
        size: bytes.length,
        offset: 0,
        metadata: { filename: 'orphan.wav', projectId },
        storage: { type: 'file', path: join(folders.uploads, id) },
      }),
    );
    await writeFile(join(folders.uploads, id), bytes);
    if (when.startsWith('after')) {
      await mkdir(join(folders.clip(id), 'original'), { recursive: true });
      await rename(join(folders.uploads, id), folders.original(id, 'orphan.wav'));
    }
    // Whoever asks first, and all at once.
    const heads = await Promise.all(
      [0, 1, 2].map(() => fetch(`${server.origin}/api/uploads/${id}`, { method: 'HEAD', headers: TUS })),
    );
    expect(heads.map((head) => head.headers.get('Upload-Offset'))).toEqual([0, 1, 2].map(() => String(bytes.length)));
    const [clip] = await client.settled(projectId, 1);
    expect([clip.id, clip.state]).toEqual([id, 'ready']);
    expect((await readdir(folders.uploads)).filter((name) => name.startsWith(id))).toEqual([]);
    expect(await contentHash(folders.original(id, 'orphan.wav'))).toBe((await ClipRow.findByPk(id))!.contentHash);
  },
);

test('an original is flushed, with the folders that lead to it, before its row says that it is there', async () => {
  const projectId = await client.newProject();
  const steps: string[] = [];
  const some = await open(join(footage, 'any'), 'w');
  const prototype = Object.getPrototypeOf(some) as { sync(): Promise<void>; datasync(): Promise<void> };
  await some.close();
  const sync = prototype.sync;
  prototype.sync = function flushed(this: { fd: number }) {
    steps.push(readlinkSync(`/proc/self/fd/${this.fd}`));
    return sync.call(this);
  };
  ClipRow.addHook('beforeCreate', 'trace', () => {
    steps.push('row');
  });
  try {
    const id = randomUUID();
    await post({ id, filename: 'flushed.wav', projectId }, oneSided());
    const { folders } = server;
    expect(steps.slice(0, steps.indexOf('row') + 1)).toEqual([
      join(folders.uploads, id),
      join(folders.clip(id), 'original'),
      folders.clip(id),
      folders.clips,
      folders.uploads,
      'row',
    ]);
  } finally {
    prototype.sync = sync;
    ClipRow.removeHook('beforeCreate', 'trace');
  }
  await client.settled(projectId, 1);
});

test('a clip that is taken out while it is measured, and put back, has its original', async () => {
  const projectId = await client.newProject();
  await client.upload(projectId, 'away.wav', wavBytes([chatter(0.1, 60, 1), noise(0.001, 60, 2)]));
  const clip = (await clipsWith(projectId, 'away.wav'))[0];
  await client.call('POST', `projects/${projectId}/clips/remove`, { clipIds: [clip.id] });
  await until(
    async () =>
      (
        await database.query(
          "select 1 from queue.job where name = 'inspect' and data->>'clipId' = $1 and state = 'completed'",
          [clip.id],
        )
      ).rowCount,
  );
  await client.call('POST', `projects/${projectId}/clips/restore`, { clipIds: [clip.id] });
  const [back] = await client.settled(projectId, 1);
  expect(back.state).toBe('ready');
  await open(server.folders.original(clip.id, 'away.wav')).then((handle) => handle.close());
});

test('a job that found its clip taken out is over with that: putting it back a moment later finds the clip without a job', async () => {
  const projectId = await client.newProject();
  await client.upload(projectId, 'moment.wav', oneSided());
  const [{ id }] = await client.settled(projectId, 1);
  const leftAs: (Date | null)[] = [];
  // As the queue gives it, but for that it is not marked as done after it.
  const inspect = () =>
    inspectClip({ ...server, log: createLog('test') }, { clipId: id }, async (transaction) => {
      const row = await ClipRow.unscoped().findByPk(id, { transaction });
      leftAs.push(row!.removedAt ?? null);
    });
  await ClipRow.update({ state: 'waiting', removedAt: new Date() }, { where: { id } });
  await inspect();
  expect(leftAs).toEqual([expect.any(Date)]);
  await ClipRow.unscoped().update({ removedAt: null }, { where: { id } });
  await inspect();
  // This time it was over with what it had found.
  expect(leftAs).toEqual([expect.any(Date), null]);
  expect((await ClipRow.findByPk(id))!.state).toBe('ready');
});

test('a clip that was put back after the queue had passed it is measured, and so is whatever has no job', async () => {
  const projectId = await client.newProject();
  await client.upload(projectId, 'passed.wav', oneSided());
  const [{ id }] = await client.settled(projectId, 1);
  // Its job is done and forgotten, and the row waits: nobody would ever come.
  await ClipRow.update({ state: 'reading', inspection: null, summary: null }, { where: { id } });
  await until(async () => (await queueOpenRows(server)) > 0);
  expect((await client.settled(projectId, 1))[0].state).toBe('ready');
  // Nothing is left to do, and asking again finds nothing.
  await until(async () => (await queueOpenRows(server)) === 0);

  await client.call('POST', `clips/${id}/writings`, {});
  await until(async () => (await WritingRow.findOne({ where: { clipId: id } }))?.state === 'done');
  await WritingRow.update({ state: 'writing', receipt: null }, { where: { clipId: id } });
  await until(async () => (await queueOpenRows(server)) > 0);
  await until(async () => (await WritingRow.findOne({ where: { clipId: id } }))?.state === 'done');
});

test('every connection to the database is cut while clips come in and are measured: all go on, nothing is counted against a clip', async () => {
  const projectId = await client.newProject();
  const admin = new pg.Client({ connectionString: process.env.TEST_DATABASE_URL });
  await admin.connect();
  const name = new URL(server.databaseUrl).pathname.slice(1);
  const cut = () => admin.query('select pg_terminate_backend(pid) from pg_stat_activity where datname = $1', [name]);
  const sent: Promise<unknown>[] = [];
  for (let i = 0; i < 12; i++) {
    const metadata = { id: randomUUID(), filename: `cut-${i}.wav`, projectId };
    // As a page does: again, until it is there.
    sent.push(until(async () => (await post(metadata, oneSided(i + 10))).status === 201));
    if (i % 4 === 3) await cut();
  }
  await Promise.all(sent);
  await cut();
  await admin.end();
  const clips = await client.settled(projectId, 12);
  expect(clips.map(({ state, error }) => [state, error])).toEqual(Array.from({ length: 12 }, () => ['ready', null]));
  // Pages are told of changes again.
  const events = await fetch(`${server.origin}/api/events`);
  const reader = events.body!.getReader();
  let heard = '';
  const hearing = (async () => {
    while (!heard.includes('Renamed')) heard += new TextDecoder().decode((await reader.read()).value);
  })();
  await until(async () => {
    await client.call('PATCH', `clips/${clips[0].id}`, { name: 'Renamed' });
    return heard.includes('Renamed');
  });
  await hearing;
  await reader.cancel();
  database = new pg.Client({ connectionString: server.databaseUrl });
  database.on('error', () => undefined);
  await database.connect();
}, 60_000);

test('a linked file is measured as what it is then, not as what it was when it was linked', async () => {
  const projectId = await client.newProject();
  const path = join(footage, 'grown.wav');
  await writeFile(path, oneSided());
  await client.call('POST', `projects/${projectId}/links`, { folder: 0, paths: ['grown.wav'] });
  const [{ id }] = await client.settled(projectId, 1);
  await writeFile(path, wavBytes([chatter(0.1, 3, 5), noise(0.0008, 3, 9)]));
  const { body } = await client.call('POST', `clips/${id}/writings`, {});
  expect((body as { title: string }).title).toBe(
    'grown.wav has changed since it was measured. Measure it again in the lineup.',
  );
  await client.call('POST', `clips/${id}/measure`);
  const [again] = await client.settled(projectId, 1);
  expect([again.bytes, again.inspection!.format.durationSeconds]).toEqual([44 + 3 * 48000 * 6, 3]);
  await client.call('POST', `clips/${id}/writings`, {});
  await until(async () => (await WritingRow.findOne({ where: { clipId: id } }))?.state === 'done');
});

test('a sweep frees what nobody needs, and nothing else', async () => {
  const projectId = await client.newProject();
  await client.upload(projectId, 'kept.wav', oneSided());
  const [{ id }] = await client.settled(projectId, 1);
  await client.call('POST', `clips/${id}/writings`, {});
  const written = (await WritingRow.findOne({ where: { clipId: id } }))!.id;
  await until(async () => (await WritingRow.findByPk(written))!.state === 'done');
  const { folders, log } = server;
  const old = new Date(Date.now() - 30 * 24 * 3_600_000);
  const strays = [
    folders.clip(randomUUID()),
    folders.writing(randomUUID()),
    join(folders.uploads, randomUUID()),
    join(folders.clip(id), '.working.pcm.abcd.part'),
  ];
  for (const path of strays.slice(0, 2)) await mkdir(path);
  for (const path of strays.slice(2)) await writeFile(path, 'x'.repeat(1000));
  for (const path of strays) await utimes(path, old, old);
  // By its own clock everything else is fresh.
  expect(await sweepHome(folders, log)).toEqual({ things: 0, bytes: 0 });
  const swept = await sweepHome(folders, log, Date.now() + 8 * 24 * 3_600_000);
  expect(swept.things).toBeGreaterThanOrEqual(4);
  expect(swept.bytes).toBeGreaterThanOrEqual(2000);
  for (const path of [folders.original(id, 'kept.wav'), folders.writing(written)]) await access(path);

  // Removed for good: rows first, then its files and what was written from it.
  await client.call('POST', `projects/${projectId}/clips/remove`, { clipIds: [id] });
  await ClipRow.unscoped().update({ removedAt: old }, { where: { id } });
  await forgetRemoved(folders);
  await sweepHome(folders, log, Date.now() + 8 * 24 * 3_600_000);
  expect(await readdir(folders.clips)).not.toContain(id);
  expect(await readdir(folders.written)).not.toContain(written);
});

test('a disk that fails for a moment under a file that comes up costs a retry, and not a byte', async () => {
  const projectId = await client.newProject();
  const [id, bytes] = [randomUUID(), wavBytes([chatter(0.1, 20, 1), noise(0.001, 20, 2)])];
  const url = `${server.origin}/api/uploads`;
  await fetch(url, {
    method: 'POST',
    headers: {
      ...TUS,
      'Upload-Length': String(bytes.length),
      'Upload-Metadata': encoded({ id, filename: 'take.wav', projectId }),
    },
  });
  const send = (offset: number) =>
    fetch(`${url}/${id}`, {
      method: 'PATCH',
      body: new Uint8Array(bytes.subarray(offset)),
      headers: { ...TUS, 'Upload-Offset': String(offset), 'Content-Type': 'application/offset+octet-stream' },
    });
  const open = fs.createWriteStream;
  let failed = 0;
  // The disk takes a million bytes, then nothing.
  fs.createWriteStream = ((path: string, options: object) =>
    open(path, {
      ...options,
      fs: {
        ...fs,
        writev: undefined,
        write: (...given: Parameters<typeof fs.write>) => {
          const [, buffer, , , position, done] = given as unknown as [
            number,
            Buffer,
            number,
            number,
            number,
            (error: unknown) => void,
          ];
          if (position + buffer.length <= 1_000_000) return fs.write(...given);
          failed++;
          return done(Object.assign(new Error('EIO: i/o error, write'), { code: 'EIO' }));
        },
      },
    } as never)) as typeof open;
  try {
    const broken = await send(0);
    expect([broken.status, failed]).toEqual([500, 1]);
    expect(await broken.text()).toMatch(/^The server’s disk could not take it just now\. Try again/);
  } finally {
    fs.createWriteStream = open;
  }
  // No clip of half a file, and nothing is called damaged.
  expect(await client.clipsOf(projectId)).toEqual([]);
  const head = await fetch(`${url}/${id}`, { method: 'HEAD', headers: TUS });
  const arrived = Number(head.headers.get('Upload-Offset'));
  expect(arrived).toBeLessThanOrEqual(1_000_000);
  expect((await send(arrived)).status).toBe(204);
  const [clip] = await client.settled(projectId, 1);
  expect([clip.state, clip.bytes]).toEqual(['ready', bytes.length]);
  expect((await readFile(server.folders.original(clip.id, 'take.wav'))).equals(bytes)).toBe(true);
});

// Last: its server takes the tables of this process to a database of its own.
test('a disk that fills while a file comes up says so, and the upload goes on when there is room', async () => {
  const disk = await smallDisk(100);
  const cramped = await startTestServer({ home: disk.folder });
  try {
    const other = new Client(cramped.origin);
    const projectId = await other.newProject();
    const [id, bytes] = [randomUUID(), wavBytes([chatter(0.1, 40, 1), noise(0.001, 40, 2)])];
    const made = await fetch(`${cramped.origin}/api/uploads`, {
      method: 'POST',
      headers: {
        ...TUS,
        'Upload-Length': String(bytes.length),
        'Upload-Metadata': encoded({ id, filename: 'big.wav', projectId }),
      },
    });
    expect(made.status).toBe(201);
    const send = (offset: number) =>
      fetch(`${cramped.origin}/api/uploads/${id}`, {
        method: 'PATCH',
        body: new Uint8Array(bytes.subarray(offset)),
        headers: { ...TUS, 'Upload-Offset': String(offset), 'Content-Type': 'application/offset+octet-stream' },
      });
    // Somebody else fills the disk.
    const { bavail, bsize } = await statfs(disk.folder);
    await writeFile(join(disk.folder, 'other'), Buffer.alloc(bavail * bsize - 4_000_000));
    const full = await send(0);
    expect([full.status, await full.text()]).toEqual([507, 'There is no room on the server’s disk.']);
    await rm(join(disk.folder, 'other'));
    const head = await fetch(`${cramped.origin}/api/uploads/${id}`, { method: 'HEAD', headers: TUS });
    expect((await send(Number(head.headers.get('Upload-Offset')))).status).toBe(204);
    const [clip] = await other.settled(projectId, 1);
    expect([clip.state, clip.bytes]).toEqual(['ready', bytes.length]);
  } finally {
    await cramped.stop();
    disk.remove();
  }
}, 60_000);
