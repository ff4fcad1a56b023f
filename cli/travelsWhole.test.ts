import { execFileSync, spawnSync } from 'node:child_process';
import { mkdir, readFile, rm } from 'node:fs/promises';
import { basename, join } from 'node:path';
import type { ConformLine } from '@pocket-twin/core/schema/handoff.ts';
import { mix } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { scratchFolder, writeTestWav } from '@pocket-twin/media/test/files.ts';
import { FILMS, makeFilm } from '@pocket-twin/media/test/travels/films.ts';
import { makeSounds } from '@pocket-twin/media/test/travels/sounds.ts';

// What lies beside the sound comes along, or the receipt says that it does not: a part of `npm run bench -- travels`, with what once went missing.

const BIN = new URL('./bin/pocket-twin.mjs', import.meta.url).pathname;
const VOICE = mix(chatter(0.1, 4, 1), noise(0.0003, 4, 3));
/** Cover and timecode, chapters, streams in two languages, late sound, B-frames, attachments, coders with and without a delay that players skip. */
const CHOSEN = [1, 6, 9, 11, 13, 17, 18, 19, 22, 25, 28, 31];
const SOUNDS = /wave-(bext-2|pmx|twice|levl|float)|flac-cover|aiff-marks|aifc-le|mp3-cover|opus/;

let folder: string;
let out: string;
let sources: string[];
let lines: Map<string, ConformLine[]>;
beforeAll(async () => {
  folder = await scratchFolder();
  out = join(folder, 'out');
  const wav = await writeTestWav(join(folder, 'sound.wav'), [VOICE, noise(0.0006, 4, 4)]);
  sources = [];
  for (const number of CHOSEN) {
    const own = join(folder, String(number));
    await mkdir(own);
    sources.push(makeFilm(FILMS[number - 1], number, wav, own));
  }
  sources.push(...(await makeSounds(join(folder, 'sounds'), wav)).filter((path) => SOUNDS.test(path)));
  const { status, stdout, stderr } = spawnSync(process.execPath, [BIN, 'handoff', ...sources, '--out', out, '--json'], {
    ...{ encoding: 'utf8', maxBuffer: 1 << 28 },
  });
  expect([status, stderr]).toEqual([0, '']);
  lines = new Map(
    stdout
      .trim()
      .split('\n')
      .slice(0, -1)
      .map((line) => JSON.parse(line) as { file: string; conform: ConformLine[] })
      .map(({ file, conform }) => [basename(file), conform]),
  );
}, 180_000);
afterAll(() => rm(folder, { recursive: true }));

const sourceOf = (name: string): string => sources.find((path) => basename(path) === name)!;
const told = (path: string, ...words: string[]): string =>
  execFileSync('/usr/bin/ffprobe', ['-v', 'error', '-of', 'compact=p=0:nk=1', ...words, path], { encoding: 'utf8' });

test('nothing differs without a reason', () => {
  expect(lines.size).toBe(sources.length);
  const unexplained = [...lines].flatMap(([name, conform]) =>
    conform
      .filter(({ equal, why }) => !equal && !why)
      .map(({ what, old, new: now }) => `${name}: ${what} ${old} → ${now}`),
  );
  expect(unexplained).toEqual([]);
  for (const conform of lines.values()) expect(conform.length).toBeGreaterThanOrEqual(7);
});

test.each(CHOSEN.map((number) => `film-${String(number).padStart(2, '0')}.${FILMS[number - 1].ending}`))(
  '%s: another program sees the same streams, times, chapters, covers and attachments',
  (name) => {
    for (const words of [
      ['-show_entries', 'stream=codec_type,codec_name'],
      ['-show_entries', 'stream_disposition=default,original,attached_pic'],
      ['-show_entries', 'stream_tags=language,title,filename,mimetype'],
      ['-show_chapters', '-show_entries', 'chapter=start_time,end_time:chapter_tags=title'],
      ['-show_entries', 'packet=pts_time', '-select_streams', 'V'],
      ['-show_entries', 'packet=data_hash,pts_time', '-show_data_hash', 'crc32', '-select_streams', 's'],
    ])
      expect(told(join(out, name), ...words)).toBe(told(sourceOf(name), ...words));
  },
);

/** The first time, in seconds of the film's clock, at which the sound of a file is loud. */
function firstLoud(path: string): number {
  const rate = 48_000;
  const words = execFileSync(
    'ffmpeg',
    ['-v', 'error', '-copyts', '-i', path, '-map', '0:a:0', '-af', 'pan=mono|c0=c0', '-f', 'f32le', '-'],
    { maxBuffer: 1 << 26 },
  );
  const samples = new Float32Array(words.buffer, words.byteOffset, words.length / 4);
  const first = samples.findIndex((sample) => Math.abs(sample) > 0.05);
  const [start] = told(
    path,
    '-show_entries',
    'packet=pts_time',
    '-select_streams',
    'a:0',
    '-read_intervals',
    '%+#1',
  ).split('\n');
  const skipped = /Skip Samples/.test(told(path, '-show_packets', '-select_streams', 'a:0', '-read_intervals', '%+#1'));
  // What a coder puts before the first sample is gone from what is decoded, where players skip it.
  return Number.parseFloat(start) + first / rate + (skipped ? 1024 / rate : 0);
}

test.each(['film-01.mp4', 'film-09.mp4', 'film-11.mov', 'film-17.mkv', 'film-28.ts', 'film-31.ts'])(
  '%s: what is heard is heard at the same time of the film, to two milliseconds',
  (name) => {
    expect(Math.abs(firstLoud(join(out, name)) - firstLoud(sourceOf(name)))).toBeLessThan(0.002);
  },
);

test('chunks that nobody knows are carried, and what describes the old sound is not', async () => {
  expect(await readFile(join(out, 'wave-pmx.wav'), 'latin1')).toContain('_PMX');
  const twice = await readFile(join(out, 'wave-twice.wav'), 'latin1');
  expect([twice.includes('first'), twice.includes('second one')]).toEqual([true, true]);
  expect(await readFile(join(out, 'wave-levl.wav'), 'latin1')).not.toContain('levl');
  expect(lines.get('wave-levl.wav')!.find(({ what }) => what === 'chunk levl')).toMatchObject({
    new: null,
    why: 'new-sound',
  });
  expect(await readFile(join(out, 'wave-float.wav'), 'latin1')).not.toContain('bext');
  expect(await readFile(join(out, 'aiff-marks.aiff'), 'latin1')).toContain('stocwhatever');
  expect(told(join(out, 'aifc-le.aifc'), '-show_entries', 'stream=codec_name')).toBe('pcm_s16le\n');
});

test('loudness in bext is measured anew, and a new UMID stands for the new sound, the old one in its history', async () => {
  const data = await readFile(join(out, 'wave-bext-2.wav'));
  const bext = data.indexOf('bext') + 8;
  const loudness = data.readInt16LE(bext + 412) / 100;
  const { channels } = JSON.parse(
    spawnSync(process.execPath, [BIN, 'inspect', join(out, 'wave-bext-2.wav'), '--json'], { encoding: 'utf8' }).stdout,
  ) as { channels: { loudnessLufs: number; truePeakDbtp: number }[] };
  // The same on both sides: 3 LU more than one of them (ITU-R BS.1770).
  expect(Math.abs(loudness - channels[0].loudnessLufs - 3.01)).toBeLessThan(0.1);
  expect(Math.abs(data.readInt16LE(bext + 416) / 100 - channels[0].truePeakDbtp)).toBeLessThan(0.1);
  expect(data.readInt16LE(bext + 414)).toBe(0x7fff);
  expect(data.subarray(bext + 348, bext + 352).toString('hex')).toBe('060a2b34');
  expect(data.toString('latin1')).toContain('was UMID 0102030405');
});
