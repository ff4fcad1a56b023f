import { spawn, spawnSync } from 'node:child_process';
import { mkdir, readdir, readFile, rm, utimes, writeFile } from 'node:fs/promises';
import { hostname } from 'node:os';
import { join } from 'node:path';
import { readMhl, readSha256 } from '@pocket-twin/core/handoff/manifest.ts';
import { readOtio } from '@pocket-twin/core/edit/otio/otioEdit.ts';
import { Chance } from '@pocket-twin/core/synth/chance.ts';
import { mix } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { scratchFolder, writeTestWav } from '@pocket-twin/media/test/files.ts';

// A folder that is handed off into more than once, or by a call that was cut short, is of everything that was handed off there.

const BIN = new URL('./bin/pocket-twin.mjs', import.meta.url).pathname;
const VOICE = mix(chatter(0.1, 4, 1), noise(0.0003, 4, 3));
const OTHER = mix(chatter(0.1, 4, 9), noise(0.0003, 4, 5));
const HISS = noise(0.0006, 4, 4);

function run(...args: string[]): { status: number | null; stdout: string; stderr: string } {
  return spawnSync(process.execPath, [BIN, ...args], { encoding: 'utf8' });
}

const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate: 25 });
const clip = (target_url: string) => ({
  ...{ OTIO_SCHEMA: 'Clip.1', media_reference: { OTIO_SCHEMA: 'ExternalReference.1', target_url } },
  source_range: { OTIO_SCHEMA: 'TimeRange.1', start_time: time(0), duration: time(75) },
});

let folder: string;
let card: string;
let edit: string;
beforeAll(async () => {
  folder = await scratchFolder();
  card = join(folder, 'card');
  await mkdir(join(card, 'b'), { recursive: true });
  for (const name of ['deck.wav', 'b/deck.wav', 'b/hall.wav']) await writeTestWav(join(card, name), [VOICE, HISS]);
  await writeTestWav(join(card, 'talk.wav'), [VOICE, OTHER]);
  edit = join(card, 'film.otio');
  const children = ['deck.wav', 'talk.wav', 'b/deck.wav', 'b/hall.wav'].map(clip);
  await writeFile(
    edit,
    JSON.stringify({
      OTIO_SCHEMA: 'Timeline.1',
      tracks: { OTIO_SCHEMA: 'Stack.1', children: [{ OTIO_SCHEMA: 'Track.1', kind: 'Audio', name: 'A', children }] },
    }),
  );
});
afterAll(() => rm(folder, { recursive: true }));

const targetsIn = async (out: string): Promise<(string | null)[]> =>
  readOtio(await readFile(join(out, 'film.otio'), 'utf8'), 'film.otio').events.map(({ target }) => target);
const namedIn = async (out: string): Promise<string[]> =>
  readSha256(await readFile(join(out, 'manifest.sha256'), 'utf8')).map(({ path }) => path);

test('a second handoff continues the first: names, manifests, receipts and the edit are of both, whatever the second call names', async () => {
  const out = join(folder, 'twice');
  const call = ['--edit', edit, '--tracks', 'repaired', '--out', out];
  expect(run('handoff', join(card, 'deck.wav'), join(card, 'talk.wav'), ...call).status).toBe(0);
  const before = await namedIn(out);
  const list = await readFile(join(out, 'manifest.mhl'), 'utf8');
  // Of another recording of the same name, and without the edit.
  expect(run('handoff', join(card, 'b/deck.wav'), '--out', out).status).toBe(0);
  expect(await targetsIn(out)).toEqual([
    'deck.wav',
    'talk-left.wav',
    'deck (2).wav',
    '../card/b/hall.wav',
    'talk-right.wav',
  ]);
  expect(await namedIn(out)).toEqual(expect.arrayContaining([...before, 'deck (2).wav', 'receipts/deck (2).wav.json']));
  const generations = join(out, 'receipts/generations');
  expect(await readdir(generations)).toEqual(['0001.mhl']);
  expect(await readFile(join(generations, '0001.mhl'), 'utf8')).toBe(list);
  const hashed = (text: string) => readMhl(text).find(({ path }) => path === 'talk-left.wav');
  expect(hashed(await readFile(join(out, 'manifest.mhl'), 'utf8'))).toEqual(hashed(list));
  const page = await readFile(join(out, 'receipt.html'), 'utf8');
  for (const name of ['deck.wav', 'talk-left.wav', 'talk-right.wav', 'deck (2).wav']) expect(page).toContain(name);
  expect(run('verify', out).status).toBe(0);
  expect(spawnSync('sha256sum', ['-c', '--quiet', 'manifest.sha256'], { cwd: out }).status).toBe(0);
  // Handed off again, each takes its own old name.
  expect(run('handoff', join(card, 'b/deck.wav'), join(card, 'deck.wav'), '--out', out).status).toBe(0);
  expect((await readdir(out)).filter((name) => name.startsWith('deck')).sort()).toEqual(['deck (2).wav', 'deck.wav']);
  const receipt = JSON.parse(await readFile(join(out, 'receipts/deck (2).wav.json'), 'utf8')) as { file: string };
  expect(receipt.file).toBe(join(card, 'b/deck.wav'));
  expect(run('verify', out).status).toBe(0);
}, 60_000);

test('verify tells of what no manifest names, and of one that is empty or cut', async () => {
  const out = join(folder, 'verified');
  expect(run('handoff', join(card, 'deck.wav'), join(card, 'b/hall.wav'), '--out', out).status).toBe(0);
  await writeFile(join(out, 'notes.txt'), 'mine');
  const told = run('verify', out);
  expect([told.status, told.stdout]).toEqual([0, expect.stringContaining('Not part of any handoff there: notes.txt.')]);
  const manifest = join(out, 'manifest.sha256');
  const text = await readFile(manifest, 'utf8');
  for (const [cut, said] of [
    ['', 'is empty'],
    [text.slice(0, text.indexOf('\n', 200) + 1), 'is cut off'],
    [text.slice(0, -3), 'is cut off'],
  ]) {
    await writeFile(manifest, cut);
    const { status, stderr } = run('verify', out);
    expect([status, stderr]).toEqual([2, expect.stringContaining(said)]);
    expect(stderr).not.toContain('    at ');
  }
});

test('a folder that somebody is handing off into is left to them, and the second says who it is', async () => {
  const out = join(folder, 'busy');
  await mkdir(out);
  const lock = { process: process.pid, host: hostname(), began: null, at: new Date().toISOString() };
  await writeFile(join(out, '.pocket-twin-handoff'), `${JSON.stringify(lock)}\n`);
  const { status, stderr } = run('handoff', join(card, 'deck.wav'), '--out', out);
  expect([status, stderr]).toEqual([2, expect.stringContaining(`Process ${process.pid} on ${hostname()}`)]);
  expect((await readdir(out)).sort()).toEqual(['.pocket-twin-handoff', 'receipts']);
  // One that has just been made, and does not say yet whose it is.
  await writeFile(join(out, '.pocket-twin-handoff'), '');
  const begun = run('handoff', join(card, 'deck.wav'), '--out', out);
  expect([begun.status, begun.stderr]).toEqual([2, expect.stringContaining('Somebody has just begun')]);
});

/** Everything in a folder but when it was made. */
async function contentOf(out: string, within = ''): Promise<Record<string, string>> {
  const content: Record<string, string> = {};
  for (const entry of await readdir(join(out, within), { withFileTypes: true })) {
    const path = join(within, entry.name);
    if (entry.isDirectory()) Object.assign(content, await contentOf(out, path));
    else
      content[path] = (await readFile(join(out, path), 'latin1'))
        .replaceAll(out, 'OUT')
        .replace(/\d{4}-\d\d-\d\dT[\d:.]+Z|\d+ \w+ \d{4} at [\d:]+/g, 'WHEN')
        // Sums over what holds a time of its own.
        .replace(/^[0-9a-f]{64}(?= {2}(receipt|receipts\/.*)(\.html|\.json)$)/gm, 'SUM')
        .replace(
          /(<path size="\d+" lastmodificationdate="WHEN">receipts?[^<]*<\/path>\s*<xxh128[^>]*>)[0-9a-f]+/g,
          '$1SUM',
        );
  }
  return content;
}

test('a call that is killed anywhere and made again leaves the folder that an undisturbed one leaves', async () => {
  const call = (out: string): string[] => ['handoff', card, '--edit', edit, '--tracks', 'repaired', '--out', out];
  const whole = join(folder, 'whole', 'out');
  await mkdir(join(folder, 'whole'));
  const began = Date.now();
  expect(run(...call(whole)).status).toBe(0);
  const lasted = Date.now() - began;
  const wanted = await contentOf(whole);
  const chance = new Chance(45);
  for (let i = 0; i < 20; i++) {
    const out = join(folder, `killed-${i}`, 'out');
    await mkdir(join(folder, `killed-${i}`));
    const child = spawn(process.execPath, [BIN, ...call(out)], { stdio: 'ignore' });
    const ended = new Promise<number | null>((resolve) => child.on('close', resolve));
    const timer = setTimeout(
      () => child.kill(i % 3 === 0 ? 'SIGTERM' : i % 3 === 1 ? 'SIGINT' : 'SIGKILL'),
      chance.integer(lasted * 0.2, lasted),
    );
    // What had ended by itself is complete.
    if ((await ended) !== 0) expect(run(...call(out)).status).toBe(0);
    clearTimeout(timer);
    expect(await contentOf(out)).toEqual(wanted);
  }
}, 240_000);

test('what a dead call had finished is not made again, and what it had begun is cleared away; what others left stays', async () => {
  const out = join(folder, 'gone-on');
  const call = ['handoff', join(card, 'deck.wav'), join(card, 'b/hall.wav'), '--out', out];
  expect(run(...call).status).toBe(0);
  const dead = spawnSync('true');
  const lock = { process: dead.pid, host: hostname(), began: '1', at: new Date(Date.now() - 1000).toISOString() };
  const claims = ['deck.wav', 'hall.wav', 'receipt.html'].map((claim) =>
    JSON.stringify({ claim, source: join(card, claim === 'hall.wav' ? 'b/hall.wav' : claim) }),
  );
  await writeFile(join(out, '.pocket-twin-handoff'), [JSON.stringify(lock), ...claims, ''].join('\n'));
  await mkdir(join(out, '.pocket-twin-scratch-abc123'));
  await writeFile(join(out, '.deck.wav.0123abcd.part'), 'half');
  const old = join(out, '.old.wav.0123abcd.part');
  await writeFile(old, 'of somebody else');
  await rm(join(out, 'hall.wav'));
  const { mtimeMs: kept } = await import('node:fs').then(({ statSync }) => statSync(join(out, 'deck.wav')));
  await utimes(old, new Date(0), new Date(0));
  expect(run(...call).status).toBe(0);
  const { mtimeMs: now } = await import('node:fs').then(({ statSync }) => statSync(join(out, 'deck.wav')));
  expect(now).toBe(kept);
  const left = (await readdir(out)).filter((name) => name.startsWith('.'));
  expect(left.filter((name) => !name.startsWith('.old'))).toEqual([]);
  expect(run('verify', out).status).toBe(0);
});
