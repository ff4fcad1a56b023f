import { execFileSync, spawnSync } from 'node:child_process';
import { mkdir, readdir, readFile, rm, symlink, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { readFileSync } from 'node:fs';
import { pathToFileURL } from 'node:url';
import { BEXT, madeBext } from '@pocket-twin/core/riff/bext.ts';
import { noFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import { readOtio } from '@pocket-twin/core/edit/otio/otioEdit.ts';
import type { ConformLine } from '@pocket-twin/core/schema/handoff.ts';
import { mix } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { INT24, scratchFolder, wavBytes, writeTestWav } from '@pocket-twin/media/test/files.ts';

// A shoot into the edit, from the terminal: files in place of the old ones, with proof.

const BIN = new URL('./bin/pocket-twin.mjs', import.meta.url).pathname;
const VOICE = mix(chatter(0.1, 4, 1), noise(0.0003, 4, 3));
const OTHER = mix(chatter(0.1, 4, 9), noise(0.0003, 4, 5));
const HISS = noise(0.0006, 4, 4);

function run(...args: string[]): { status: number | null; stdout: string; stderr: string } {
  return spawnSync(process.execPath, [BIN, ...args], { encoding: 'utf8' });
}

interface Line {
  file: string;
  error: string | null;
  conform?: ConformLine[];
  receipt: { files: { file: string; exact: boolean; frames: number; proof: { differingFrames: number } }[] } | null;
}
interface Summary {
  files: number;
  left: string[];
  edit: string | null;
  events: number;
  matched: number;
  missing: string[];
}

function handOff(...args: string[]): { status: number | null; lines: Line[]; summary: Summary } {
  const { status, stdout } = run('handoff', ...args, '--json');
  const all = stdout
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as Line & { handoff: Summary });
  return { status, lines: all.slice(0, -1), summary: all.at(-1)!.handoff };
}

const probe = (path: string, entries: string): string =>
  execFileSync('/usr/bin/ffprobe', ['-v', 'error', '-show_entries', entries, '-of', 'default=nw=1', path], {
    encoding: 'utf8',
  });
const picture = (path: string): string =>
  execFileSync('ffmpeg', ['-v', 'error', '-i', path, '-map', '0:v', '-c', 'copy', '-f', 'streamhash', '-'], {
    encoding: 'utf8',
  });

/** A film of four seconds with timecode and a title, its sound a WAV's. */
function film(path: string, wav: string, sound: string): void {
  const made = ['-f', 'lavfi', '-i', 'testsrc=d=4:s=64x48:r=25', '-i', wav, '-map', '0:v', '-map', '1:a'];
  const codecs = ['-c:v', 'libx264', '-preset', 'ultrafast', '-pix_fmt', 'yuv420p', '-c:a', sound];
  const facts = [
    '-timecode',
    '10:20:30:05',
    '-metadata',
    'title=Ferry',
    '-metadata',
    'creation_time=2026-08-14T10:00:00Z',
  ];
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...made, ...codecs, ...facts, path]);
}

test('a shoot takes the place of the old files: exact words, pictures packet by packet, timecode and tags, receipts and checksums', async () => {
  const folder = await scratchFolder();
  const card = join(folder, 'card');
  await mkdir(join(card, 'day 2'), { recursive: true });
  const oneSided = await writeTestWav(join(card, 'deck.wav'), [VOICE, HISS]);
  await writeTestWav(join(card, 'day 2', 'pair.WAV'), [VOICE, OTHER]);
  await writeTestWav(join(card, 'day 2', 'mono.wav'), [VOICE]);
  await writeFile(join(card, 'notes.txt'), 'no recording');
  for (const [ending, sound] of [
    ['mov', 'pcm_s24le'],
    ['mkv', 'pcm_s16le'],
    ['mp4', 'aac'],
  ])
    film(join(card, `film.${ending}`), oneSided, sound);
  const out = join(folder, 'out');
  const { status, lines, summary } = handOff(card, '--auto', '--out', out);
  expect([status, summary.left]).toEqual([0, []]);
  expect(lines.map(({ file, error }) => [file, error])).toEqual([
    [join(card, 'day 2', 'mono.wav'), null],
    [join(card, 'day 2', 'pair.WAV'), null],
    [join(card, 'deck.wav'), null],
    [join(card, 'film.mkv'), null],
    [join(card, 'film.mov'), null],
    [join(card, 'film.mp4'), null],
  ]);
  const lineOf = (name: string): Line => lines.find(({ file }) => file.endsWith(name))!;
  for (const { receipt, conform } of lines) {
    expect(receipt!.files.every(({ proof }) => proof.differingFrames === 0)).toBe(true);
    expect(conform!.find(({ what }) => what === 'frames')!.equal).toBe(true);
  }

  // Words: what was asked, to the byte, with a line of history.
  const written = await readFile(join(out, 'deck.wav'));
  const wanted = wavBytes([VOICE, VOICE]);
  expect(written.includes(wanted.subarray(44))).toBe(true);
  expect(written.includes('A=PCM,F=48000,W=24,M=stereo,T=Pocket Twin; Fill right from left')).toBe(true);
  expect((await readFile(join(out, 'day 2', 'mono.wav'))).equals(await readFile(join(card, 'day 2', 'mono.wav')))).toBe(
    true,
  );
  expect(lineOf('pair.WAV').receipt!.files.map(({ file }) => file)).toEqual([
    join(out, 'day 2', 'pair-left.WAV'),
    join(out, 'day 2', 'pair-right.WAV'),
  ]);
  expect(lineOf('pair.WAV').conform!.find(({ what }) => what === 'channels')).toEqual({
    ...{ what: 'channels', old: 2, new: 1, equal: false, why: 'repair' },
  });

  // Pictures: every packet, and what stands around them.
  for (const ending of ['mov', 'mkv', 'mp4']) {
    const [old, now] = [join(card, `film.${ending}`), join(out, `film.${ending}`)];
    expect(picture(now)).toBe(picture(old));
    expect(lineOf(`film.${ending}`).conform!.find(({ what }) => what.startsWith('picture packets'))!.equal).toBe(true);
    expect(probe(now, 'format_tags=title')).toBe(probe(old, 'format_tags=title'));
    expect(probe(now, 'format_tags=creation_time')).toBe(probe(old, 'format_tags=creation_time'));
    expect(probe(now, 'stream_tags=timecode:format_tags=timecode')).toContain('10:20:30:05');
    expect(probe(now, 'format_tags=timecode:stream_tags=timecode').toLowerCase()).toBe(
      probe(old, 'format_tags=timecode:stream_tags=timecode').toLowerCase(),
    );
  }
  const sides = execFileSync(
    'ffmpeg',
    ['-v', 'error', '-i', join(out, 'film.mov'), '-map', '0:a', '-c', 'copy', '-f', 's24le', '-'],
    { maxBuffer: 1 << 26 },
  );
  expect(sides.equals(wanted.subarray(44))).toBe(true);

  // Proof, for a standard tool and for ours.
  expect(execFileSync('/usr/bin/sha256sum', ['-c', '--quiet', 'manifest.sha256'], { cwd: out, encoding: 'utf8' })).toBe(
    '',
  );
  expect(await readFile(join(out, 'manifest.mhl'), 'utf8')).toContain('<path size=');
  const page = await readFile(join(out, 'receipt.html'), 'utf8');
  expect(page).toContain('Only the left side carries speech.');
  expect(JSON.parse(await readFile(join(out, 'receipts', 'film.mov.json'), 'utf8')).file).toBe(join(card, 'film.mov'));
  expect(run('verify', out).status).toBe(0);
  await writeFile(
    join(out, 'deck.wav'),
    Buffer.concat([written.subarray(0, 900), Buffer.from([1]), written.subarray(901)]),
  );
  await rm(join(out, 'film.mp4'));
  const verified = run('verify', out);
  expect(verified.status).toBe(1);
  expect(verified.stdout).toContain('deck.wav: changed\nfilm.mp4: missing\n2 of ');
}, 120_000);

test('an edit is written again, pointing to the new files: OpenTimelineIO in the style of each address, a list by its names', async () => {
  const folder = await scratchFolder();
  const card = join(folder, 'card');
  await mkdir(card);
  const deck = await writeTestWav(join(card, 'deck 1.wav'), [VOICE, HISS]);
  await writeTestWav(join(card, 'talk.wav'), [VOICE, OTHER]);
  const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate: 24000 / 1001 });
  const clip = (target_url: string) => ({
    ...{ OTIO_SCHEMA: 'Clip.1', name: 'x', media_reference: { OTIO_SCHEMA: 'ExternalReference.1', target_url } },
    source_range: { OTIO_SCHEMA: 'TimeRange.1', start_time: time(12), duration: time(24) },
  });
  const children = [deck, pathToFileURL(deck).href, 'deck 1.wav', '../elsewhere/talk.wav', 'gone.wav'].map(clip);
  const edit = join(folder, 'film.otio');
  await writeFile(
    edit,
    JSON.stringify({
      OTIO_SCHEMA: 'Timeline.1',
      tracks: { OTIO_SCHEMA: 'Stack.1', children: [{ OTIO_SCHEMA: 'Track.1', kind: 'Audio', children }] },
    }),
  );
  const out = join(folder, 'out');
  const { status, summary } = handOff(card, '--auto', '--edit', edit, '--out', out);
  expect(status).toBe(0);
  expect(summary).toMatchObject({ edit: join(out, 'film.otio'), events: 5, matched: 4, missing: ['gone.wav'] });
  const text = await readFile(join(out, 'film.otio'), 'utf8');
  const [old, now] = [readOtio(await readFile(edit, 'utf8'), 'a'), readOtio(text, 'b')];
  expect(now.events.map(({ target }) => target)).toEqual([
    join(out, 'deck 1.wav'),
    pathToFileURL(join(out, 'deck 1.wav')).href,
    'deck 1.wav',
    'talk.wav',
    // What is not handed off is still where it was.
    '../gone.wav',
  ]);
  expect(now.events.map(({ startSeconds, endSeconds }) => [startSeconds, endSeconds])).toEqual(
    old.events.map(({ startSeconds, endSeconds }) => [startSeconds, endSeconds]),
  );

  const list = join(folder, 'film.edl');
  await writeFile(
    list,
    'TITLE: FILM\n001  AX  AA C        00:00:00:00 00:00:02:00 01:00:00:00 01:00:02:00\n* FROM CLIP NAME: talk.wav\n',
  );
  const second = handOff(card, '--edit', list, '--tracks', 'repaired', '--out', out);
  expect(second.summary).toMatchObject({ events: 1, matched: 1, missing: [] });
  expect(await readFile(join(out, 'film.edl'), 'utf8')).toBe(
    [
      'TITLE: FILM',
      '001  AX  A  C        00:00:00:00 00:00:02:00 01:00:00:00 01:00:02:00',
      '* FROM CLIP NAME: talk-left.wav',
      '* talk-left.wav: was stereo, is 2 files on parallel tracks now: talk-left.wav, talk-right.wav',
      '002  AX  A2 C        00:00:00:00 00:00:02:00 01:00:00:00 01:00:02:00',
      '* FROM CLIP NAME: talk-right.wav',
      '',
    ].join('\n'),
  );
  // Handed off once more, its own files are written anew; nothing is doubled.
  expect((await readdir(out)).filter((name) => name.endsWith('.wav')).sort()).toEqual([
    'deck 1.wav',
    'talk-left.wav',
    'talk-right.wav',
    'talk.wav',
  ]);
  expect(run('verify', out).status).toBe(0);
});

test('only what is used is a file a stretch with its handles, its timecode moved along, and the edit’s times stay', async () => {
  const folder = await scratchFolder();
  const card = join(folder, 'card');
  await mkdir(card);
  const bext = { id: 'bext', body: madeBext({ ...noFacts(2), startSamples: 3600 * 48_000 }) };
  await writeFile(join(card, 'deck.wav'), wavBytes([VOICE, HISS], INT24, [bext]));
  await writeTestWav(join(card, 'mono.wav'), [VOICE]);
  await writeTestWav(join(card, 'unused.wav'), [VOICE, HISS]);
  const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate: 24 });
  const clip = (target_url: string, start: number, length: number) => ({
    ...{ OTIO_SCHEMA: 'Clip.1', media_reference: { OTIO_SCHEMA: 'ExternalReference.1', target_url } },
    source_range: { OTIO_SCHEMA: 'TimeRange.1', start_time: time(start), duration: time(length) },
  });
  // From 0.5 s for half a second, from 1.25 s for a quarter (their handles touch), and the last half second.
  const children = [
    clip('deck.wav', 86_412, 12),
    clip('deck.wav', 86_430, 6),
    clip('deck.wav', 86_484, 12),
    clip('mono.wav', 0, 24),
  ];
  const edit = join(folder, 'film.otio');
  await writeFile(edit, JSON.stringify({ OTIO_SCHEMA: 'Track.1', kind: 'Audio', children }));
  const out = join(folder, 'out');
  const { status, lines, summary } = handOff(card, '--edit', edit, '--used-only', '--handles', '0.25', '--out', out);
  expect([status, summary.files, summary.matched, summary.events]).toEqual([0, 3, 4, 4]);
  expect((await readdir(out)).filter((name) => name.endsWith('.wav')).sort()).toEqual([
    'deck-1.wav',
    'deck-2.wav',
    'mono.wav',
  ]);
  expect(lines[0].receipt!.files.map(({ frames, exact }) => [frames, exact])).toEqual([
    [1.5 * 48_000, true],
    [0.75 * 48_000, true],
  ]);
  const filled = wavBytes([VOICE, VOICE]);
  const words = (from: number, to: number): Buffer => filled.subarray(44 + from * 48_000 * 6, 44 + to * 48_000 * 6);
  for (const [name, from, to] of [
    ['deck-1.wav', 0.25, 1.75],
    ['deck-2.wav', 3.25, 4],
  ] as const) {
    const written = await readFile(join(out, name));
    expect(written.includes(words(from, to))).toBe(true);
    const reference = written.indexOf('bext') + 8 + BEXT.timeReference.at;
    expect(Number(written.readBigUInt64LE(reference))).toBe((3600 + from) * 48_000);
  }
  const [old, now] = [edit, join(out, 'film.otio')]
    .map((path) => readFileSync(path, 'utf8'))
    .map((text) => readOtio(text, 'a'));
  expect(now.events.map(({ target }) => target)).toEqual(['deck-1.wav', 'deck-1.wav', 'deck-2.wav', 'mono.wav']);
  expect(now.events.map(({ startSeconds, endSeconds }) => [startSeconds, endSeconds])).toEqual(
    old.events.map(({ startSeconds, endSeconds }) => [startSeconds, endSeconds]),
  );
  expect(now.events.map(({ mediaStartSeconds }) => mediaStartSeconds)).toEqual([3600.25, 3600.25, 3603.25, null]);
});

test('names follow a pattern and never meet, originals and other people’s files stay', async () => {
  const folder = await scratchFolder();
  for (const card of ['A', 'B']) await mkdir(join(folder, card));
  await writeTestWav(join(folder, 'A', 'Take.wav'), [VOICE, HISS]);
  await writeTestWav(join(folder, 'B', 'take.wav'), [HISS, VOICE]);
  const out = join(folder, 'out');
  await mkdir(out);
  await writeFile(join(out, 'x-Take.wav'), 'mine');
  const { status } = handOff(join(folder, 'A'), join(folder, 'B'), '--name', 'x-{name}', '--out', out);
  expect(status).toBe(0);
  const names = (await readdir(out)).filter((name) => name.endsWith('.wav')).sort();
  expect(new Set(names.map((name) => name.toLowerCase())).size).toBe(3);
  expect(names).toEqual(['x-Take (2).wav', 'x-Take.wav', 'x-take (3).wav'].sort());
  expect(await readFile(join(out, 'x-Take.wav'), 'utf8')).toBe('mine');

  // A link leads back to the card.
  const before = await readFile(join(folder, 'A', 'Take.wav'));
  await symlink(join(folder, 'A'), join(folder, 'linked'));
  const refused = run('handoff', join(folder, 'A'), '--out', join(folder, 'linked'));
  expect([refused.status, refused.stdout.includes('originals are never replaced')]).toEqual([2, true]);
  expect((await readFile(join(folder, 'A', 'Take.wav'))).equals(before)).toBe(true);
  expect(await readdir(join(folder, 'A'))).toEqual(['Take.wav']);
});

test('the edit that was read is never replaced, and one that uses nothing of what was named makes nothing', async () => {
  const folder = await scratchFolder();
  const wav = await writeTestWav(join(folder, 'a.wav'), [VOICE, HISS]);
  const edit = join(folder, 'film.edl');
  const text = '001  AX  AA C  00:00:00:00 00:00:02:00 01:00:00:00 01:00:02:00\n* FROM CLIP NAME: gone.wav\n';
  await writeFile(edit, text);
  const here = run('handoff', wav, '--edit', edit, '--out', folder);
  expect([here.status, here.stderr]).toEqual([2, expect.stringContaining('film.edl is there already')]);
  expect(await readFile(edit, 'utf8')).toBe(text);
  const none = run('handoff', wav, '--edit', edit, '--used-only', '--out', join(folder, 'out'));
  expect([none.status, none.stderr]).toEqual([2, expect.stringContaining('uses none of the recordings')]);
  expect((await readdir(folder)).sort()).toEqual(['a.wav', 'film.edl']);
});

test.each<[string, string[], string]>([
  ['no folder to go to', ['a.wav'], 'Say where the files go: --out DIR.'],
  ['two things to do', ['a.wav', '--auto', '--as-is', '--out', 'x'], 'Say only one of'],
  ['a pattern with an unknown word', ['a.wav', '--name', '{colour}', '--out', 'x'], 'no “{colour}”'],
  ['an edit that is not there', ['a.wav', '--edit', 'no.otio', '--out', '/tmp/pocket-twin-none'], 'can’t be read'],
  [
    'an edit of another kind',
    ['a.wav', '--edit', 'package.json', '--out', '/tmp/pocket-twin-none'],
    'neither .otio nor .edl',
  ],
])('%s is told in one sentence', (_what, words, sentence) => {
  const { status, stderr } = run('handoff', ...words);
  expect([status, stderr]).toEqual([2, expect.stringContaining(sentence)]);
  expect(stderr.trim().split('\n')).toHaveLength(1);
});

test('a folder where nothing was handed off, and a manifest that names something outside, are no proof', async () => {
  const folder = await scratchFolder();
  expect(run('verify', folder)).toMatchObject({
    status: 2,
    stderr: expect.stringContaining('There is no manifest.sha256'),
  });
  await writeFile(join(folder, 'manifest.sha256'), `${'a'.repeat(64)}  ../outside.wav\n`);
  expect(run('verify', folder)).toMatchObject({ status: 2, stderr: expect.stringContaining('outside the folder') });
});

test('floating-point sound that becomes FLAC is calculated and said so: nothing shorter is called exact', async () => {
  const folder = await scratchFolder();
  const source = await writeTestWav(join(folder, 'float.wav'), [VOICE, HISS], { kind: 'float', bits: 32 });
  const { status, lines } = handOff(source, '--auto', '--format', 'flac', '--out', join(folder, 'out'));
  expect(status).toBe(0);
  expect(lines[0].receipt!.files[0]).toMatchObject({ exact: false, proof: { differingFrames: 0 } });
  expect(probe(join(folder, 'out', 'float.flac'), 'stream=bits_per_raw_sample')).toContain('=24');
  const refused = run('handoff', source, '--auto', '--format', 'flac', '--bits', '32f', '--out', join(folder, 'no'));
  expect(refused.stdout + refused.stderr).toContain('FLAC holds whole numbers');
});

test('whoever stops reading what is put out gets no stack trace', async () => {
  const folder = await scratchFolder();
  for (let i = 0; i < 12; i++) await writeTestWav(join(folder, `take-${i}.wav`), [VOICE, HISS]);
  const command = `${process.execPath} ${BIN} inspect ${folder}/*.wav --json | head -c 10`;
  const { stderr } = spawnSync('bash', ['-c', command], { encoding: 'utf8' });
  expect(stderr).toBe('');
});

test('recordings of one name in several folders are written side by side without getting into each other’s way', async () => {
  const folder = await scratchFolder();
  const card = join(folder, 'card');
  for (let day = 1; day <= 6; day++) {
    await mkdir(join(card, `day ${day}`), { recursive: true });
    // Each of a length of its own, so that one taken for another is seen.
    await writeTestWav(join(card, `day ${day}`, 'take.wav'), [VOICE.subarray(day * 4800), HISS.subarray(day * 4800)]);
  }
  const { status, lines } = handOff(card, '--auto', '--format', 'flac', '--out', join(folder, 'out'));
  expect(status).toBe(0);
  for (let day = 1; day <= 6; day++) {
    const path = join(folder, 'out', `day ${day}`, 'take.flac');
    expect(Number(/duration=([\d.]+)/.exec(probe(path, 'stream=duration'))![1])).toBeCloseTo(4 - day / 10, 6);
  }
  expect(lines.every(({ receipt }) => receipt!.files[0].proof.differingFrames === 0)).toBe(true);
  const page = await readFile(join(folder, 'out', 'receipt.html'), 'utf8');
  expect(page.match(/aria-label="Before"/g)!.length).toBe(6);
  expect(page.match(/aria-label="After"/g)!.length).toBe(6);
});
