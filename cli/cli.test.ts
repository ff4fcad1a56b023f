import { spawnSync } from 'node:child_process';
import { mkdir, readdir, readFile, symlink, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fillFrom } from '@pocket-twin/core/repair/plan/plans.ts';
import { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import { mix } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { scratchFolder, wavBytes, writeTestWav } from '@pocket-twin/media/test/files.ts';

const BIN = new URL('./bin/pocket-twin.mjs', import.meta.url).pathname;
const LEFT = mix(chatter(0.1, 2, 1), noise(0.0003, 2, 3));
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
  const [first, second] = stdout
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as { file: string; error: string | null });
  expect(first).toEqual({ file: bad, error: expect.stringMatching(/^bad\.wav is a text file inside/) });
  expect(second).toMatchObject({
    file: good,
    error: null,
    format: { container: 'wav', codec: 'pcm_s24le', bitDepth: 24 },
    verdict: 'one-sided',
    duplicates: [],
  });
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
  expect(run('repair', source, '--auto', '--out', out).status).toBe(0);
  expect(run('repair', source, '--fill', '1', '--out', out).stdout).toContain(
    'a (2).wav: every sample is one that was read.',
  );
  expect((await readFile(join(out, 'a.wav'))).equals(wavBytes([LEFT, LEFT]))).toBe(true);
  expect(await readdir(out)).toEqual(['a (2).wav', 'a.wav']);
  const mono = await writeTestWav(join(folder, 'mono.wav'), [LEFT]);
  expect(run('repair', mono, '--auto', '--out', out)).toMatchObject({
    status: 0,
    stdout: expect.stringContaining('Left alone.'),
  });
});

test('a recipe, trims and a level target work together, in FLAC too', async () => {
  const folder = await scratchFolder();
  const source = await writeTestWav(join(folder, 'a.wav'), [LEFT, RIGHT]);
  const recipe = join(folder, 'fill.json');
  await writeFile(recipe, JSON.stringify(fillFrom(1, 2)));
  const { stdout, status } = run(
    'repair',
    source,
    '--recipe',
    recipe,
    '--invert',
    '1',
    '--delay',
    '1=-2.5',
    '--loudness',
    '-23',
    '--format',
    'flac',
    '--out',
    folder,
    '--json',
  );
  expect(status).toBe(0);
  const { receipt } = JSON.parse(stdout) as {
    receipt: { files: { name: string; exact: boolean; after: Inspection }[] };
  };
  expect(receipt.files[0]).toMatchObject({ name: 'a.flac', exact: false, after: { verdict: 'dual-mono' } });
  const { stdout: said } = run('inspect', join(folder, 'a.flac'), '--json');
  // Each side alone is 3.01 LU below the pair.
  expect((JSON.parse(said) as Inspection).channels[0].loudnessLufs).toBeCloseTo(-26.01, 1);
});

test.each([
  [['repair', 'a.wav', '--out', 'x'], /^Say what to do: one of --select/],
  [['repair', 'a.wav', '--fill', '1', '--swap', '--out', 'x'], /^Say only one of/],
  [['repair', 'a.wav', '--fill', '1'], /^Say where the repaired files go/],
  [['repair', '--gain', '1', '--fill', '1', 'a.wav', '--out', '/tmp'], /^--gain takes CHANNEL=NUMBER/],
  [['inspect', '--loud'], /^Unknown option --loud/],
  [['listen'], /^There is no command “listen”/],
])('%j says what is off in one sentence', (args, sentence) => {
  const { status, stderr } = run(...(args as string[]));
  expect(stderr).toMatch(sentence);
  expect([status, stderr.trim().split('\n').length]).toEqual([2, 1]);
});

test('trims alone are a repair: the channels stay where they are, and nothing is dithered', async () => {
  const folder = await scratchFolder();
  const source = await writeTestWav(join(folder, 'a.wav'), [LEFT, RIGHT]);
  expect(run('repair', source, '--invert', '2', '--out', join(folder, 'out'))).toMatchObject({
    status: 0,
    stdout: expect.stringContaining('Turn one side over.\n  a.wav: every sample is one that was read.'),
  });
  expect((await readFile(join(folder, 'out', 'a.wav'))).equals(wavBytes([LEFT, RIGHT.map((x) => -x)]))).toBe(true);
  expect(run('repair', source, '--invert', '3', '--out', join(folder, 'out'))).toMatchObject({
    status: 2,
    stdout: expect.stringContaining('There is no channel 3: the file has 2.'),
  });
});

test('what a person must decide gives 1, what needs nothing gives 0, what cannot be read gives 2, and each stands in its place', async () => {
  const folder = await scratchFolder();
  const out = join(folder, 'out');
  const wav = (name: string, channels: Float64Array[]): Promise<string> => writeTestWav(join(folder, name), channels);
  const files = [
    await wav('mono.wav', [LEFT]),
    await wav('side.wav', [LEFT, RIGHT]),
    await wav('nothing.wav', [RIGHT, RIGHT.map((x, i) => x * Math.sin(i))]),
    join(folder, 'missing.wav'),
    await wav('last.wav', [RIGHT, LEFT]),
  ];
  const lines = (given: string[]) => {
    const { status, stdout } = run('repair', ...given, '--auto', '--json', '--out', out);
    return {
      status,
      said: stdout
        .trim()
        .split('\n')
        .map(
          (line) => JSON.parse(line) as { file: string; error: string | null; receipt: unknown; leftAlone?: string },
        ),
    };
  };
  expect(lines(files.slice(0, 2)).status).toBe(0);
  expect(lines(files.slice(0, 3)).status).toBe(1);
  const { status, said } = lines(files);
  expect(status).toBe(2);
  expect(
    said.map(({ file, error, receipt, leftAlone }) => [
      file,
      error !== null,
      receipt !== null,
      leftAlone !== undefined,
    ]),
  ).toEqual([
    [files[0], false, false, true],
    [files[1], false, true, false],
    [files[2], false, false, true],
    [files[3], true, false, false],
    [files[4], false, true, false],
  ]);
});

test('files of one name do not become one, and no original is replaced, whatever links lead to it', async () => {
  const folder = await scratchFolder();
  const out = join(folder, 'out');
  await mkdir(join(folder, 'b'));
  const one = await writeTestWav(join(folder, 'one.wav'), [LEFT, RIGHT]);
  const two = await writeTestWav(join(folder, 'b', 'one.wav'), [RIGHT, LEFT]);
  expect(run('repair', one, two, '--swap', '--overwrite', '--out', out).status).toBe(0);
  expect((await readFile(join(out, 'one.wav'))).equals(wavBytes([RIGHT, LEFT]))).toBe(true);
  expect((await readFile(join(out, 'one (2).wav'))).equals(wavBytes([LEFT, RIGHT]))).toBe(true);
  await symlink(folder, join(folder, 'link'));
  const { status, stdout } = run('repair', one, '--swap', '--overwrite', '--out', join(folder, 'link'));
  expect([status, stdout]).toEqual([2, expect.stringContaining('is an original, and originals are never replaced')]);
  expect((await readFile(one)).equals(wavBytes([LEFT, RIGHT]))).toBe(true);
});

test('many files at once stand in the order given', async () => {
  const folder = await scratchFolder();
  const files: string[] = [];
  // The first is the longest: it is done last.
  for (let n = 0; n < 7; n++)
    files.push(
      await writeTestWav(
        join(folder, `${n}.wav`),
        [LEFT, RIGHT].map((side) => side.subarray(0, n === 0 ? side.length : 9600 + n)),
      ),
    );
  const { stdout } = run('inspect', ...files, '--json');
  const said = stdout
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as Inspection & { file: string });
  expect(said.map(({ file }) => file)).toEqual(files);
  expect(said.map(({ format }) => format.frames)).toEqual([LEFT.length, ...[1, 2, 3, 4, 5, 6].map((n) => 9600 + n)]);
});

test('files named from where one stands are read and written there, of every kind', async () => {
  const folder = await scratchFolder();
  await writeTestWav(join(folder, 'take.wav'), [LEFT, RIGHT]);
  const there = (...args: string[]) => spawnSync(process.execPath, [BIN, ...args], { encoding: 'utf8', cwd: folder });
  const make = (name: string, ...codec: string[]) =>
    expect(
      spawnSync('ffmpeg', ['-nostdin', '-loglevel', 'error', '-i', 'take.wav', ...codec, name], { cwd: folder }).status,
    ).toBe(0);
  make('take.flac');
  make('take.m4a', '-c:a', 'alac');
  // More streams than one are read through files beside the working copy.
  expect(
    spawnSync('ffmpeg', ['-nostdin', '-loglevel', 'error', '-i', 'take.wav', '-map', '0', '-map', '0', 'two.mka'], {
      cwd: folder,
    }).status,
  ).toBe(0);
  const inspected = there('inspect', '--json', 'take.wav', 'take.flac', './take.m4a', 'two.mka');
  expect([inspected.stderr, inspected.status]).toEqual(['', 1]);
  const lines = inspected.stdout.trim().split('\n');
  expect(lines.map((line) => (JSON.parse(line) as Inspection & { file: string }).verdict)).toEqual([
    'one-sided',
    'one-sided',
    'one-sided',
    'multichannel',
  ]);
  const repaired = there('repair', '--fill', '1', '--out', 'out', 'take.flac', 'take.m4a', '--format', 'flac');
  expect([repaired.stderr, repaired.status]).toEqual(['', 0]);
  expect((await readdir(join(folder, 'out'))).sort()).toEqual(['take (2).flac', 'take.flac']);
});
