import { spawnSync } from 'node:child_process';
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { recipeOf } from '@pocket-twin/core/repair/plan/recipes.ts';
import { fillFrom } from '@pocket-twin/core/repair/plan/plans.ts';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import { Chance } from '@pocket-twin/core/synth/chance.ts';
import { inTurn, later, mix, silence } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { talkOf } from '@pocket-twin/core/synth/talk.ts';
import { scratchFolder, wavBytes, writeTestWav } from '@pocket-twin/media/test/files.ts';

// What the terminal does in time, for many, and with several files that are one.

const BIN = new URL('./bin/pocket-twin.mjs', import.meta.url).pathname;
const RATE = 48000;
const VOICE = mix(chatter(0.1, 8, 1), noise(0.0003, 8, 3));
const HISS = noise(0.0006, 8, 4);

function run(...args: string[]): { status: number | null; stdout: string; stderr: string } {
  return spawnSync(process.execPath, [BIN, ...args], { encoding: 'utf8' });
}

interface Line {
  error: string | null;
  leftAlone?: string;
  receipt: {
    repair: { trims: object[]; sections: unknown; turns: { turns: unknown[] } };
    before: Inspection;
    levelGainDb: number;
    notes: string[];
    files: { file: string; exact: boolean; exactOutside: object[] | null; after: Inspection }[];
  };
}

function lines(...args: string[]): Line[] {
  const { stdout } = run(...args, '--json');
  return stdout
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as Line);
}

test('--sections auto mends a dropout; what it prints is read again, corrected by hand', async () => {
  const folder = await scratchFolder();
  const right = VOICE.map((x, i) => (i > 2.5 * RATE && i < 5.25 * RATE ? 0 : x));
  const source = await writeTestWav(join(folder, 'a.wav'), [VOICE, right]);
  const [{ receipt }] = lines('repair', source, '--sections', 'auto', '--out', join(folder, 'auto'));
  expect(receipt.repair.sections).toMatchObject({
    fadeMs: 10,
    sections: [{ route: { 1: '1', 2: '2' } }, { route: { 1: '1', 2: '1' } }, { route: { 1: '1', 2: '2' } }],
  });
  expect(receipt.files[0]).toMatchObject({
    file: join(folder, 'auto', 'a.wav'),
    exact: false,
    after: { verdict: 'dual-mono' },
  });
  expect(receipt.files[0].exactOutside).toHaveLength(2);
  const plan = join(folder, 'plan.json');
  await writeFile(plan, JSON.stringify({ receipt }));
  const again = run('repair', source, '--sections', plan, '--out', join(folder, 'again'));
  expect(again).toMatchObject({ status: 0, stdout: expect.stringContaining('exact but for 2 fades of 10 ms') });
  expect((await readFile(join(folder, 'again', 'a.wav'))).equals(await readFile(receipt.files[0].file))).toBe(true);
  await writeFile(plan, JSON.stringify({ sections: [{ startSeconds: 7, endSeconds: 9, route: { 1: '1' } }] }));
  const beyond = run('repair', source, '--sections', plan, '--out', join(folder, 'beyond'));
  expect(beyond.status).toBe(2);
  expect(beyond.stdout).toContain('beyond the clip’s end at 00:08.00');
});

test('--turns auto opens each microphone while its talker speaks; corrected turns make the files that they say', async () => {
  const folder = await scratchFolder();
  const { microphones, turns } = talkOf(new Chance(5), {
    ...{ talkers: 2, seconds: 25, bleedDb: 14, decaySeconds: 0.2, noiseDbfs: -66, overlaps: 0, yeses: 0 },
  });
  const source = await writeTestWav(join(folder, 'talk.wav'), microphones);
  const [{ receipt }] = lines('repair', source, '--turns', 'auto', '--out', join(folder, 'auto'));
  expect(receipt.repair.turns).toMatchObject({ closedDb: -12, output: 'centred' });
  expect(receipt.repair.turns.turns).toHaveLength(turns.length);
  expect(receipt.notes.join(' ')).toMatch(/The room is \d\.\d dB quieter/);
  expect(receipt.files[0].after.verdict).toBe('dual-mono');
  const file = join(folder, 'turns.json');
  const corrected = { turns: [{ channel: 1, startSeconds: 1, endSeconds: 2 }], closedDb: null, output: 'separate' };
  await writeFile(file, JSON.stringify({ ...corrected, microphones: [{ channel: 1 }, { channel: 2 }] }));
  const out = lines('repair', source, '--turns', file, '--out', join(folder, 'own'))[0].receipt.files;
  expect(out.map((written) => written.file)).toEqual(
    ['talk-left.wav', 'talk-right.wav'].map((name) => join(folder, 'own', name)),
  );
  expect(out[1].after.verdict).toBe('mono');
  expect(out[1].after.channels[0].content).toBe('silent');
  const overlap = { turns: [...corrected.turns, { channel: 1, startSeconds: 1.5, endSeconds: 3 }] };
  await writeFile(file, JSON.stringify(overlap));
  expect(run('repair', source, '--turns', file, '--out', folder).stdout).toContain(
    'Two turns of channel 1 overlap at 00:01.50',
  );
}, 60_000);

test('--line-up moves time only, by whole samples exactly; without a common sound it is left for a person', async () => {
  const folder = await scratchFolder();
  const source = await writeTestWav(join(folder, 'late.wav'), [VOICE, later(VOICE, 14).map((x) => -0.8 * x)]);
  const [{ receipt }] = lines('repair', source, '--line-up', '--out', folder);
  expect(receipt.repair.trims).toEqual([{ channel: 1, gainDb: 0, polarity: 'normal', delaySamples: 14 }]);
  expect(receipt.files[0]).toMatchObject({ exact: true, after: { format: { frames: VOICE.length } } });
  const apart = await writeTestWav(join(folder, 'apart.wav'), [VOICE, mix(chatter(0.1, 8, 77), HISS)]);
  const left = run('repair', apart, '--line-up', '1,2', '--out', join(folder, 'none'));
  expect(left).toMatchObject({ status: 1, stdout: expect.stringContaining('no sound in common') });
});

test('--route puts any input anywhere, an output that is not named is silent', async () => {
  const folder = await scratchFolder();
  const source = await writeTestWav(join(folder, 'a.wav'), [VOICE, HISS]);
  const [{ receipt }] = lines('repair', source, '--route', '1=-2', '--route', '3=1', '--out', join(folder, 'o'));
  const wanted = wavBytes([HISS.map((x) => -x), silence(VOICE.length), VOICE]);
  expect(receipt.files[0].exact).toBe(true);
  expect((await readFile(receipt.files[0].file)).equals(wanted)).toBe(true);
  for (const [route, words] of [
    ['1=3', 'There is no channel 3'],
    ['x=1', '--route takes a number'],
    ['1=a', 'is no route'],
    ['1', '--route takes OUT=IN'],
  ])
    expect(
      `${run('repair', source, '--route', route, '--out', folder).stdout}${run('repair', source, '--route', route, '--out', folder).stderr}`,
    ).toContain(words);
});

test('a recipe is used where it fits; the odd one out is left for a person', async () => {
  const folder = await scratchFolder();
  const paths = await Promise.all(
    [
      ['fits.wav', VOICE, HISS],
      ['other.wav', HISS, VOICE],
    ].map(([name, left, right]) => writeTestWav(join(folder, name as string), [left, right] as Float64Array[])),
  );
  const before = JSON.parse(run('inspect', paths[0], '--json').stdout) as Inspection;
  const recipe = join(folder, 'lapel.json');
  await writeFile(recipe, JSON.stringify(recipeOf('Lapel left', fillFrom(1, 2), before)));
  const { status, stdout } = run('repair', ...paths, '--recipe', recipe, '--out', join(folder, 'o'), '--json');
  const [fits, other] = stdout
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as Line);
  expect(status).toBe(1);
  expect(fits.receipt.files[0].exact).toBe(true);
  expect(other).toMatchObject({
    receipt: null,
    leftAlone: 'The recipe “Lapel left” does not fit. Here the left side is only noise: nothing would be left of it.',
  });
});

test('--same-gain keeps how loud clips are to each other', async () => {
  const folder = await scratchFolder();
  const loud = await writeTestWav(join(folder, 'loud.wav'), [VOICE]);
  const soft = await writeTestWav(join(folder, 'soft.wav'), [VOICE.map((x) => x / 2)]);
  const found = lines('repair', loud, soft, '--loudness', '-23', '--same-gain', '--out', join(folder, 'o'));
  const [first, second] = found.map(({ receipt }) => receipt);
  expect(first.levelGainDb).toBe(second.levelGainDb);
  const loudness = ({ files: [{ after }] }: Line['receipt']) => after.channels[0].loudnessLufs!;
  expect(loudness(first) - loudness(second)).toBeCloseTo(6.02, 1);
  expect(loudness(first)).toBeGreaterThan(-23);
  expect(loudness(second)).toBeLessThan(-23);
  expect(run('repair', loud, '--same-gain', '--fill', '1', '--out', folder).stderr).toContain(
    '--same-gain needs a level',
  );
});

test('join puts a left and a right file in step, and warns of copies that are not', async () => {
  const folder = await scratchFolder();
  const left = await writeTestWav(join(folder, 'l.wav'), [VOICE]);
  const right = await writeTestWav(join(folder, 'r.wav'), [inTurn(silence(17), VOICE)], { kind: 'integer', bits: 16 });
  const out = join(folder, 'both.wav');
  const { status, stdout } = run('join', left, right, '--out', out, '--line-up', '--json');
  expect(status).toBe(0);
  expect(JSON.parse(stdout)).toEqual({ file: out, offsetsSamples: [0, 17], frames: VOICE.length + 17, warnings: [] });
  const plain = JSON.parse(run('join', left, right, '--out', out, '--json').stdout) as {
    file: string;
    warnings: object[];
  };
  expect(plain).toMatchObject({ file: join(folder, 'both (2).wav'), warnings: [{ code: 'comb-filtering' }] });
  const slow = await writeTestWav(join(folder, 'slow.wav'), [VOICE], { kind: 'integer', bits: 24 }, [], 44_100);
  expect(run('join', left, slow, '--out', out)).toMatchObject({
    status: 2,
    stderr: expect.stringContaining('l.wav has 48000 samples a second and slow.wav has 44100'),
  });
  expect(run('join', left, '--out', out).status).toBe(2);
  expect(run('join', left, right, '--out', left).stderr).toContain('originals are never replaced');
});

test('AIFF holds the same words', async () => {
  const folder = await scratchFolder();
  const source = await writeTestWav(join(folder, 'a.wav'), [VOICE, HISS]);
  const [{ receipt }] = lines('repair', source, '--fill', '1', '--format', 'aiff', '--out', join(folder, 'o'));
  expect(receipt.files[0].file).toBe(join(folder, 'o', 'a.aiff'));
  const [back] = lines('repair', receipt.files[0].file, '--swap', '--format', 'wav', '--out', join(folder, 'p'));
  expect((await readFile(back.receipt.files[0].file)).equals(wavBytes([VOICE, VOICE]))).toBe(true);
});
