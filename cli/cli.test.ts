import { spawnSync } from 'node:child_process';
import { readdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fillFrom } from '@pocket-twin/core/repair/plans.ts';
import { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import { add, chatter, noise } from '@pocket-twin/core/test/signals.ts';
import { scratchFolder, wavBytes, writeTestWav } from '@pocket-twin/media/test/files.ts';

const BIN = new URL('./bin/pocket-twin.mjs', import.meta.url).pathname;
const LEFT = add(chatter(0.1, 2, 1), noise(0.0003, 2, 3));
const RIGHT = noise(0.0008, 2, 2);

function run(...args: string[]): { status: number | null; stdout: string; stderr: string } {
  return spawnSync(process.execPath, [BIN, ...args], { encoding: 'utf8' });
}

test('inspect --json gives one object a file, in order, and goes on past a bad one', async () => {
  const folder = await scratchFolder();
  const good = await writeTestWav(join(folder, 'a.wav'), [LEFT, RIGHT]);
  const bad = join(folder, 'bad.wav');
  await writeFile(bad, 'words');
  const { status, stdout, stderr } = run('inspect', bad, good, '--json');
  const [first, second] = stdout.trim().split('\n').map((line) => JSON.parse(line) as { file: string; error: string | null });
  expect(first).toEqual({ file: bad, error: expect.stringMatching(/^bad\.wav is a text file inside/) });
  expect(second).toMatchObject({ file: good, error: null, format: { container: 'wav', codec: 'pcm_s24le', bitDepth: 24 }, verdict: 'one-sided', duplicates: [] });
  expect(Inspection.safeParse(second).success).toBe(true);
  expect([status, stderr]).toEqual([2, '']);
  expect(run('inspect', good).status).toBe(1);
});

test('the table for people is no wider than 80 columns', async () => {
  const { stdout } = run('inspect', await writeTestWav(join(await scratchFolder(), 'a.wav'), [LEFT, RIGHT]));
  const lines = stdout.split('\n').slice(1);
  expect(Math.max(...lines.map((line) => line.length))).toBeLessThanOrEqual(80);
  expect(stdout).toContain('Only the left side carries sound.');
});

test('repair --auto fills exactly, keeps names that exist, and leaves alone what needs nothing', async () => {
  const folder = await scratchFolder();
  const source = await writeTestWav(join(folder, 'a.wav'), [LEFT, RIGHT]);
  const out = join(folder, 'out');
  expect(run('repair', source, '--auto', '--out', out).status).toBe(1);
  expect(run('repair', source, '--fill', '1', '--out', out).stdout).toContain('a (2).wav: every sample is the one that was read.');
  expect((await readFile(join(out, 'a.wav'))).equals(wavBytes([LEFT, LEFT]))).toBe(true);
  expect(await readdir(out)).toEqual(['a (2).wav', 'a.wav']);
  const mono = await writeTestWav(join(folder, 'mono.wav'), [LEFT]);
  expect(run('repair', mono, '--auto', '--out', out)).toMatchObject({ status: 0, stdout: expect.stringContaining('Left alone.') });
});

test('a recipe, trims and a level target work together, in FLAC too', async () => {
  const folder = await scratchFolder();
  const source = await writeTestWav(join(folder, 'a.wav'), [LEFT, RIGHT]);
  const recipe = join(folder, 'fill.json');
  await writeFile(recipe, JSON.stringify(fillFrom(1, 2)));
  const { stdout, status } = run('repair', source, '--recipe', recipe, '--invert', '1', '--delay', '1=-2.5', '--loudness', '-23', '--format', 'flac', '--out', folder, '--json');
  expect(status).toBe(1);
  const { receipt } = JSON.parse(stdout) as { receipt: { files: { name: string; exact: boolean; after: Inspection }[] } };
  expect(receipt.files[0]).toMatchObject({ name: 'a.flac', exact: false, after: { verdict: 'dual-mono' } });
  const { stdout: said } = run('inspect', join(folder, 'a.flac'), '--json');
  // Each side alone is 3.01 LU below the pair.
  expect((JSON.parse(said) as Inspection).channels[0].loudnessLufs).toBeCloseTo(-26.01, 1);
});

test.each([
  [['repair', 'a.wav', '--out', 'x'], /^Say exactly one of --select/],
  [['repair', 'a.wav', '--fill', '1', '--swap', '--out', 'x'], /^Say exactly one of/],
  [['repair', 'a.wav', '--fill', '1'], /^Say where the repaired files go/],
  [['repair', '--gain', '1', '--fill', '1', 'a.wav', '--out', '/tmp'], /^--gain takes CHANNEL=NUMBER/],
  [['inspect', '--loud'], /^Unknown option --loud/],
  [['listen'], /^There is no command “listen”/],
])('%j says what is off in one sentence', (args, sentence) => {
  const { status, stderr } = run(...(args as string[]));
  expect(stderr).toMatch(sentence);
  expect([status, stderr.trim().split('\n').length]).toEqual([2, 1]);
});
