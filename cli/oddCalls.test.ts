import { spawnSync } from 'node:child_process';
import { openSync } from 'node:fs';
import { mkdir, readdir, readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { mix } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { scratchFolder, writeTestWav } from '@pocket-twin/media/test/files.ts';

// Calls that nobody means: each gets one sentence and the exit status of the contract, and what is fine of it is done.

const BIN = new URL('./bin/pocket-twin.mjs', import.meta.url).pathname;
const VOICE = mix(chatter(0.1, 3, 1), noise(0.0003, 3, 3));
const HISS = noise(0.0006, 3, 4);
const LONG = `${'n'.repeat(251)}.wav`;

let folder: string;
let wav: string;
beforeAll(async () => {
  folder = await scratchFolder();
  wav = await writeTestWav(join(folder, 'deck.wav'), [VOICE, HISS]);
});
afterAll(() => rm(folder, { recursive: true }));

function run(...args: string[]): { status: number | null; stdout: string; said: string[] } {
  const { status, stdout, stderr } = spawnSync(process.execPath, [BIN, ...args], { encoding: 'utf8', timeout: 30_000 });
  expect(`${stdout}${stderr}`).not.toMatch(/\n\s+at /);
  return { status, stdout, said: stderr.trim().split('\n') };
}

test.each<[string, string[], RegExp]>([
  ['an option twice', ['repair', 'W', '--fill', '1', '--fill', '2', '--out', 'O'], /^--fill is given twice/],
  ['a pattern that leaves the folder', ['handoff', 'W', '--name', '../../{name}', '--out', 'O'], /names a folder/],
  ['a pattern that is cut off', ['handoff', 'W', '--name', '{date', '--out', 'O'], /a brace without its other one/],
  ['a pattern of hidden files', ['handoff', 'W', '--name', '.{name}', '--out', 'O'], /begins with a dot/],
  ['a pattern no system takes', ['handoff', 'W', '--name', '{name}?', '--out', 'O'], /some systems refuse/],
  ['a folder under a kernel’s own', ['repair', 'W', '--fill', '1', '--out', '/proc/x/y'], /can’t be made/],
  ['a folder of the kernel’s', ['repair', 'W', '--fill', '1', '--out', '/proc'], /choose another --out/],
  ['a folder in a file', ['handoff', 'W', '--out', 'W/x'], /can’t be made/],
  [
    'an offset without end',
    ['join', 'W', 'W', '--offset', '2=1e15', '--out', 'O/j.wav'],
    /^There is no room for j\.wav/,
  ],
  ['markers without an edit', ['handoff', 'W', '--markers', '--out', 'O'], /needs the edit/],
  ['tracks nobody knows', ['handoff', 'W', '--tracks', 'some', '--out', 'O'], /^--tracks takes one of same, repaired/],
  ['a channel below the first', ['repair', 'W', '--fill', '-1', '--out', 'O'], /^--fill takes a channel from 1/],
])('%s is told in one sentence', (_what, args, sentence) => {
  const { status, said } = run(...args.map((word) => word.replace(/^W/, wav).replace(/^O/, join(folder, 'never'))));
  expect([status, said]).toEqual([2, [expect.stringMatching(sentence)]]);
});

test.each<[string[], string]>([
  [['--gain', '1=1000'], 'A gain lies between −60 and 60 dB.'],
  [['--loudness', '5'], 'A loudness lies between −70 and 0 LUFS.'],
  [['--loudness', '-2e5'], 'A loudness lies between −70 and 0 LUFS.'],
  [['--peak', '-61'], 'A peak lies between −60 and 0 dBTP.'],
  [['--delay', '1=1e9'], 'A delay is 96000 samples at most.'],
])('a number past its range is told in words: %j', (args, sentence) => {
  const { status, stdout } = run('repair', wav, ...args, '--out', join(folder, 'o'));
  expect([status, stdout]).toEqual([2, expect.stringContaining(sentence)]);
});

test('names as long as a disk takes are handed off and repaired, and one that gets too long stops no other', async () => {
  const card = join(folder, 'card');
  await mkdir(card);
  await writeTestWav(join(card, LONG), [VOICE, HISS]);
  await writeTestWav(join(card, 'short.wav'), [VOICE, HISS]);
  const out = join(folder, 'long');
  expect(run('handoff', card, '--out', out).status).toBe(0);
  expect((await readdir(out)).filter((name) => name.endsWith('.wav')).sort()).toEqual([LONG, 'short.wav']);
  expect(run('verify', out).status).toBe(0);
  const { status, stdout } = run('repair', join(card, LONG), wav, '--split', '--out', out);
  expect([status, stdout]).toEqual([2, expect.stringMatching(/is too long for the disk[^]*deck-left\.wav/)]);
});

test('what cannot be put out is told, and is no success', () => {
  const full = openSync('/dev/full', 'w');
  for (const args of [['inspect', wav], ['inspect', wav, '--json'], ['--help']]) {
    const { status, stderr } = spawnSync(process.execPath, [BIN, ...args], {
      encoding: 'utf8',
      stdio: ['ignore', full, 'pipe'],
    });
    expect([status, stderr]).toEqual([2, expect.stringMatching(/^The results can’t be written[^\n]*\n$/)]);
  }
});

test('a form or a depth alone is a conversion, and a layout leaves silent what nothing is routed to', async () => {
  const out = join(folder, 'forms');
  expect(run('repair', wav, '--bits', '16', '--out', out).status).toBe(0);
  expect((await readFile(join(out, 'deck.wav'))).readUInt16LE(34)).toBe(16);
  expect(run('repair', wav, '--format', 'flac', '--out', out).status).toBe(0);
  const { stdout } = run('repair', wav, '--route', '3=1', '--layout', '5.1', '--json', '--out', out);
  const { files } = (JSON.parse(stdout) as { receipt: { files: { after: { channels: { content: string }[] } }[] } })
    .receipt;
  expect(files[0].after.channels.map(({ content }) => content)).toEqual([
    ...['silent', 'silent', 'programme', 'silent', 'silent', 'silent'],
  ]);
});

/** A voice as it would be so many samples later, with silence before and after: sums of sines, which are known at every time. */
function voiceAt(laterSamples: number): Float64Array {
  return Float64Array.from({ length: 4 * 48_000 }, (_, i) => {
    const t = (i - laterSamples) / 48_000;
    const open = Math.sin((Math.PI / 2) * Math.max(0, Math.min(1, 10 * (t - 0.2), 10 * (3.8 - t)))) ** 2;
    const syllable = Math.max(0, Math.sin(2 * Math.PI * 2.3 * t) + 0.4 * Math.sin(2 * Math.PI * 0.7 * t));
    let sum = 0;
    for (let k = 1; k <= 60; k++) sum += Math.sin(2 * Math.PI * (97 * k + 3 * k * k * 0.37) * t + k * k) / k;
    return 0.06 * open * syllable * sum;
  });
}

test.each([17, 17.5, -3.25])('joining undoes %d samples, fractions too; whole ones exactly', async (later) => {
  const first = await writeTestWav(join(folder, 'first.wav'), [voiceAt(0)]);
  const second = await writeTestWav(join(folder, 'second.wav'), [voiceAt(later)]);
  const target = join(folder, `joined${later}.wav`);
  const { status, stdout } = run('join', first, second, '--line-up', '--json', '--out', target);
  expect(status).toBe(0);
  const { offsetsSamples } = JSON.parse(stdout) as { offsetsSamples: number[] };
  expect(offsetsSamples[1]).toBeCloseTo(later, 1);
  const inspected = JSON.parse(run('inspect', target, '--json').stdout) as { pairs: { nullDepthDb: number | null }[] };
  const [{ nullDepthDb }] = inspected.pairs;
  expect(nullDepthDb ?? -Infinity).toBeLessThan(Number.isInteger(later) ? -90 : -60);
});
