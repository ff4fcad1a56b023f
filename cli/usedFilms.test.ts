import { execFileSync, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { EditEvent } from '@pocket-twin/core/edit/edit.ts';
import { readOtio } from '@pocket-twin/core/edit/otio/otioEdit.ts';
import { mix } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { scratchFolder, wavBytes, writeTestWav } from '@pocket-twin/media/test/files.ts';

// Only what an edit uses of films: the picture is copied packet by packet from one that stands alone to before another, and the sound goes with it.

const BIN = new URL('./bin/pocket-twin.mjs', import.meta.url).pathname;
const SECONDS = 10;
const RATE = 48_000;
const VOICE = mix(chatter(0.1, SECONDS, 1), noise(0.0003, SECONDS, 3));
const HISS = noise(0.0006, SECONDS, 4);

const tool = (program: string, ...words: string[]): Buffer =>
  execFileSync(program, ['-v', 'error', ...words], { maxBuffer: 1e8 });

interface Packet {
  seconds: number;
  isKey: boolean;
  hash: string;
}

/** The packets of the picture in the order in which they stand, with what is in each. */
function packetsOf(path: string): Packet[] {
  const entries = ['-show_entries', 'packet=pts_time,dts_time,flags,data_hash', '-show_data_hash', 'MD5'];
  const { packets } = JSON.parse(
    tool('/usr/bin/ffprobe', '-select_streams', 'v:0', ...entries, '-of', 'json', path).toString(),
  ) as { packets: { pts_time?: string; dts_time?: string; flags: string; data_hash: string }[] };
  return packets.map(({ pts_time: shownAt, dts_time: decodedAt, flags, data_hash: hash }) => ({
    ...{ seconds: Number(shownAt ?? decodedAt), isKey: flags.startsWith('K'), hash },
  }));
}

/** A sum over packets, so that what differs is told in a line. */
function sumOf(packets: Packet[]): string {
  return `${packets.length} packets ${createHash('md5')
    .update(packets.map(({ hash }) => hash).join())
    .digest('hex')}`;
}

/** The sound that a player would put out, from its first sample. */
const soundOf = (path: string): Buffer =>
  tool('ffmpeg', '-i', path, '-map', '0:a', '-f', 's24le', '-c:a', 'pcm_s24le', '-');

/** How many pictures a player shows, and a sum over all of them. */
function shown(path: string): { frames: number; sum: string } {
  const raw = tool(
    'ffmpeg',
    '-i',
    path,
    '-map',
    '0:v',
    '-f',
    'rawvideo',
    '-pix_fmt',
    'gray',
    '-fps_mode',
    'passthrough',
    '-',
  );
  return { frames: raw.length / (64 * 48), sum: createHash('md5').update(raw).digest('hex') };
}

/** A sum over each picture that a player shows. */
function hashesOf(path: string): string[] {
  const lines = tool('ffmpeg', '-i', path, '-map', '0:v', '-fps_mode', 'passthrough', '-f', 'framemd5', '-');
  return lines
    .toString()
    .split('\n')
    .filter((line) => line !== '' && !line.startsWith('#'))
    .map((line) => line.split(',').at(-1)!.trim());
}

const INTRA = ['-c:v', 'mjpeg', '-pix_fmt', 'yuvj420p'];
const LONG_GOP = [
  ...['-c:v', 'libx264', '-preset', 'ultrafast', '-g', '30', '-bf', '2', '-sc_threshold', '0', '-pix_fmt', 'yuv420p'],
];
const CLOSED_GOP = ['-c:v', 'mpeg2video', '-g', '12', '-bf', '2', '-flags', '+cgop', '-sc_threshold', '1000000000'];
const OPEN_GOP = ['-c:v', 'mpeg2video', '-g', '12', '-bf', '2', '-sc_threshold', '1000000000'];
const OPEN_HEVC = ['-c:v', 'libx265', '-x265-params', 'log-level=none:keyint=25:open-gop=1:scenecut=0'];
const PCM = ['-c:a', 'pcm_s24le'];

type Span = readonly [from: number, to: number];

/** What is recorded, and what the edit uses of it, in seconds; `HANDLES` before and after come along. */
const RECORDINGS: Record<string, { codecs: string[]; uses: Span[] }> = {
  'intra.mov': { codecs: [...INTRA, ...PCM], uses: [[3.24, 4.16]] },
  'long.mov': { codecs: [...LONG_GOP, ...PCM], uses: [[3.24, 4.16]] },
  'long.mkv': { codecs: [...LONG_GOP, ...PCM], uses: [[3.24, 4.16]] },
  'groups.mxf': { codecs: [...CLOSED_GOP, ...PCM], uses: [[3.24, 4.16]] },
  'groups.avi': { codecs: ['-c:v', 'mpeg4', '-g', '12', ...PCM], uses: [[3.24, 4.16]] },
  'coded.mp4': { codecs: [...LONG_GOP, '-c:a', 'aac'], uses: [[3.24, 4.16]] },
  'coded.ts': {
    codecs: [...LONG_GOP, '-c:a', 'aac'],
    uses: [[3.24, 4.16]],
  },
  'voice.flac': { codecs: [], uses: [[3.24, 4.16]] },
  'head.mov': { codecs: [...LONG_GOP, ...PCM], uses: [[0.12, 0.92]] },
  'tail.mov': { codecs: [...LONG_GOP, ...PCM], uses: [[8.92, 9.96]] },
  'all.mov': { codecs: [...LONG_GOP, ...PCM], uses: [[0.12, 9.96]] },
  // From all sorts of places within their groups to all sorts of others.
  'open.mov': { codecs: [...OPEN_GOP, ...PCM], uses: [[1.24, 1.76], [3.2, 3.76], [7.04, 8.72]] }, // prettier-ignore
  'open.mkv': { codecs: [...OPEN_HEVC, ...PCM], uses: [[1.24, 1.76], [3.2, 3.76], [7.04, 8.72]] }, // prettier-ignore
};
const HANDLES = 0.2;
const FRAMES_A_SECOND = 25;
const FILLED = wavBytes([VOICE, VOICE]).subarray(44);

/** 10:20:30:05, but for containers that hold no timecode. */
const originFrames = (name: string): number =>
  /avi|flac|ts$/.test(name) ? 0 : ((10 * 60 + 20) * 60 + 30) * FRAMES_A_SECOND + 5;

interface Line {
  file: string;
  receipt: { files: { exact: boolean; proof: { differingFrames: number } }[] };
  conform: { what: string; equal: boolean }[];
}

let card = '';
let out = '';
let lines: Line[] = [];
let events: EditEvent[] = [];
beforeAll(async () => {
  const folder = await scratchFolder();
  [card, out] = [join(folder, 'card'), join(folder, 'out')];
  await mkdir(card);
  const wav = await writeTestWav(join(folder, 'sound.wav'), [VOICE, HISS]);
  const picture = [
    '-f',
    'lavfi',
    '-i',
    `testsrc=d=${SECONDS}:s=64x48:r=${FRAMES_A_SECOND}`,
    '-i',
    wav,
    '-map',
    '0:v',
    '-map',
    '1:a',
  ];
  for (const [name, { codecs }] of Object.entries(RECORDINGS))
    if (codecs.length === 0) tool('ffmpeg', '-i', wav, join(card, name));
    else tool('ffmpeg', ...picture, ...codecs, '-timecode', '10:20:30:05', join(card, name));
  const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate: FRAMES_A_SECOND });
  const children = Object.entries(RECORDINGS).flatMap(([name, { uses }]) =>
    uses.map((use) => {
      const [from, to] = use.map((seconds) => Math.round(seconds * FRAMES_A_SECOND));
      return {
        ...{ OTIO_SCHEMA: 'Clip.1', media_reference: { OTIO_SCHEMA: 'ExternalReference.1', target_url: name } },
        source_range: {
          ...{ OTIO_SCHEMA: 'TimeRange.1', start_time: time(originFrames(name) + from), duration: time(to - from) },
        },
      };
    }),
  );
  const edit = join(folder, 'film.otio');
  await writeFile(edit, JSON.stringify({ OTIO_SCHEMA: 'Track.1', kind: 'Video', children }));
  const { status, stdout, stderr } = spawnSync(
    process.execPath,
    [
      BIN,
      'handoff',
      card,
      '--edit',
      edit,
      '--used-only',
      '--handles',
      String(HANDLES),
      '--out',
      out,
      '--auto',
      '--json',
    ],
    { encoding: 'utf8' },
  );
  expect([status, stderr]).toEqual([0, '']);
  lines = stdout.trim().split('\n').slice(0, -1).map((line) => JSON.parse(line) as Line); // prettier-ignore
  events = readOtio(await readFile(join(out, 'film.otio'), 'utf8'), 'film.otio').events;
}, 120_000);

/** What the edit says of a recording now, its times counted from the recording's start. */
function eventsOf(name: string): { target: string; from: number; to: number; media: number | null }[] {
  const origin = originFrames(name) / FRAMES_A_SECOND;
  const [stem, ending] = name.split('.');
  return events
    .filter(({ target }) => target?.startsWith(stem) && target.endsWith(ending))
    .map(({ target, startSeconds, endSeconds, mediaStartSeconds }) => ({
      ...{ target: target!, from: startSeconds! - origin, to: endSeconds! - origin },
      media: mediaStartSeconds === null ? null : mediaStartSeconds - origin,
    }));
}

const wordsBetween = (from: number, to: number): Buffer =>
  FILLED.subarray(Math.round(from * RATE) * 6, Math.round(to * RATE) * 6);

// Wanted from 3.04 to 4.36 s: in pictures of a key each, in groups of thirty from 2.4 to 4.8 s, and so on.
test.each<[string, Span]>([
  ['intra.mov', [3.04, 4.36]],
  ['long.mov', [2.4, 4.8]],
  ['long.mkv', [2.4, 4.8]],
  ['groups.mxf', [2.8, 4.4]],
  ['groups.avi', [2.88, 4.8]],
  ['head.mov', [0, 1.2]],
  ['tail.mov', [8.4, 10]],
  ['all.mov', [0, 10]],
])('of %s what is used comes out as it is', (name, [from, to]) => {
  const [film, made] = [join(card, name), join(out, name)];
  const all = packetsOf(film);
  const first = all.findIndex(({ seconds, isKey }) => isKey && seconds >= from - 0.001);
  const end = all.findIndex(({ seconds, isKey }) => isKey && seconds >= to - 0.001);
  expect(sumOf(packetsOf(made))).toBe(sumOf(all.slice(first, end < 0 ? all.length : end)));
  expect(shown(made).frames).toBe(Math.round((to - from) * FRAMES_A_SECOND));
  // The words of the sound between them, and nothing else.
  expect(soundOf(made).equals(wordsBetween(from, to))).toBe(true);
  const line = lines.find(({ file }) => file === film)!;
  expect(line.receipt.files[0]).toMatchObject({ exact: true, proof: { differingFrames: 0 } });
  expect(line.conform.find(({ what }) => what.startsWith('picture packets'))).toMatchObject({ equal: true });
  // The edit's times are those of before; the file says which of them it holds.
  const [event] = eventsOf(name);
  const [[useFrom, useTo]] = RECORDINGS[name].uses;
  expect(event).toMatchObject({ target: name, from: expect.closeTo(useFrom, 6), to: expect.closeTo(useTo, 6) });
  if (to - from < SECONDS) expect(event.media).toBeCloseTo(from, 4);
  if (/mov|mkv|mxf/.test(name)) {
    const frames = 5 + Math.round(from * FRAMES_A_SECOND);
    const two = (value: number): string => String(value).padStart(2, '0');
    const tags = tool(
      '/usr/bin/ffprobe',
      '-show_entries',
      'stream_tags=timecode:format_tags=timecode',
      '-of',
      'csv=p=0',
      made,
    );
    expect(tags.toString()).toContain(`10:20:${30 + Math.floor(frames / 25)}:${two(frames % 25)}`);
  }
});

test.each(['open.mov', 'open.mkv'])(
  'of %s, whose pictures need some that come later, all that is wanted is shown',
  (name) => {
    const all = hashesOf(join(card, name));
    const found = eventsOf(name);
    expect(found).toHaveLength(3);
    for (const [i, { target, media }] of found.entries()) {
      const [from, to] = RECORDINGS[name].uses[i];
      const made = join(out, target);
      const first = Math.round(media! * FRAMES_A_SECOND);
      const now = hashesOf(made);
      expect(first).toBeLessThanOrEqual(Math.round((from - HANDLES) * FRAMES_A_SECOND));
      expect(first + now.length).toBeGreaterThanOrEqual(Math.round((to + HANDLES) * FRAMES_A_SECOND));
      expect(now).toEqual(all.slice(first, first + now.length));
      expect(soundOf(made).equals(wordsBetween(first / FRAMES_A_SECOND, (first + now.length) / FRAMES_A_SECOND))).toBe(
        true,
      );
    }
  },
);

test.each(['coded.mp4', 'coded.ts'])(
  'coded sound of %s is cut with its picture, as near as its coder comes',
  (name) => {
    const made = join(out, name);
    expect(shown(made).frames).toBe(60);
    expect(sumOf(packetsOf(made))).toBe(sumOf(packetsOf(join(card, name)).slice(60, 120)));
    expect(lines.find(({ file }) => file.endsWith(name))!.receipt.files[0].exact).toBe(false);
    expect(Math.abs(soundOf(made).length / 6 - 2.4 * RATE)).toBeLessThan(2048);
  },
);

test('packed sound without a picture is cut to what is used', () => {
  expect(soundOf(join(out, 'voice.flac')).equals(wordsBetween(3.04, 4.36))).toBe(true);
  expect(eventsOf('voice.flac')[0].media).toBeCloseTo(3.04, 6);
});
