import { execFileSync, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { readOtio } from '@pocket-twin/core/edit/otio.ts';
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
  return tool('/usr/bin/ffprobe', '-select_streams', 'v:0', ...entries, '-of', 'csv=p=0', path)
    .toString()
    .trim()
    .split('\n')
    .map((line) => line.split(','))
    .map(([pts, dts, flags, hash]) => ({ seconds: Number(pts === 'N/A' ? dts : pts), isKey: flags[0] === 'K', hash }));
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

async function cutOut(name: string, codecs: string[], uses: [from: number, to: number], handles: number) {
  const folder = await scratchFolder();
  const card = join(folder, 'card');
  await mkdir(card);
  const wav = await writeTestWav(join(folder, 'sound.wav'), [VOICE, HISS]);
  const film = join(card, name);
  const picture = ['-f', 'lavfi', '-i', `testsrc=d=${SECONDS}:s=64x48:r=25`, '-i', wav, '-map', '0:v', '-map', '1:a'];
  if (codecs.length === 0) tool('ffmpeg', '-i', wav, film);
  else tool('ffmpeg', ...picture, ...codecs, '-timecode', '10:20:30:05', film);
  const rate = 25;
  const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate });
  // 10:20:30:05, but for containers that hold no timecode.
  const origin = /avi|ts|flac$/.test(name) ? 0 : ((10 * 60 + 20) * 60 + 30) * rate + 5;
  const [from, to] = uses.map((seconds) => Math.round(seconds * rate));
  const clip = {
    ...{ OTIO_SCHEMA: 'Clip.1', media_reference: { OTIO_SCHEMA: 'ExternalReference.1', target_url: name } },
    source_range: { OTIO_SCHEMA: 'TimeRange.1', start_time: time(origin + from), duration: time(to - from) },
  };
  const edit = join(folder, 'film.otio');
  await writeFile(edit, JSON.stringify({ OTIO_SCHEMA: 'Track.1', kind: 'Video', children: [clip] }));
  const out = join(folder, 'out');
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
      String(handles),
      '--out',
      out,
      '--auto',
      '--json',
    ],
    { encoding: 'utf8' },
  );
  expect([status, stderr]).toEqual([0, '']);
  const line = JSON.parse(stdout.split('\n')[0]) as {
    receipt: { files: { exact: boolean; proof: { differingFrames: number } }[] };
    conform: { what: string; old: unknown; new: unknown; equal: boolean }[];
  };
  const [event] = readOtio(await readFile(join(out, 'film.otio'), 'utf8'), 'film.otio').events;
  return { film, made: join(out, name), line, event, originSeconds: origin / rate };
}

const INTRA = ['-c:v', 'mjpeg', '-pix_fmt', 'yuvj420p'];
const LONG_GOP = [
  '-c:v',
  'libx264',
  '-preset',
  'fast',
  '-g',
  '30',
  '-bf',
  '2',
  '-sc_threshold',
  '0',
  '-pix_fmt',
  'yuv420p',
];
const CLOSED_GOP = ['-c:v', 'mpeg2video', '-g', '12', '-bf', '2', '-flags', '+cgop', '-sc_threshold', '1000000000'];
const PCM = ['-c:a', 'pcm_s24le'];

test.each<[string, string[], [number, number]]>([
  // Wanted from 3.05 to 4.35 s: in pictures of a key each, in groups of thirty from 2.4 to 4.8 s, and so on.
  ['intra.mov', [...INTRA, ...PCM], [3.04, 4.36]],
  ['long.mov', [...LONG_GOP, ...PCM], [2.4, 4.8]],
  ['long.mkv', [...LONG_GOP, ...PCM], [2.4, 4.8]],
  ['groups.mxf', [...CLOSED_GOP, ...PCM], [2.8, 4.4]],
  ['groups.avi', ['-c:v', 'mpeg4', '-g', '12', ...PCM], [2.88, 4.8]],
])(
  'of %s what is used comes out as it is',
  async (name, codecs, [from, to]) => {
    const { film, made, line, event, originSeconds } = await cutOut(name, codecs, [3.24, 4.16], 0.2);
    const all = packetsOf(film);
    const first = all.findIndex(({ seconds, isKey }) => isKey && seconds >= from - 0.001);
    const end = all.findIndex(({ seconds, isKey }) => isKey && seconds >= to - 0.001);
    const now = packetsOf(made);
    expect(sumOf(now)).toBe(sumOf(all.slice(first, end)));
    expect(shown(made).frames).toBe(Math.round((to - from) * 25));
    // The words of the sound between them, and nothing else.
    const filled = wavBytes([VOICE, VOICE]).subarray(44);
    expect(soundOf(made).equals(filled.subarray(Math.round(from * RATE) * 6, Math.round(to * RATE) * 6))).toBe(true);
    expect(line.receipt.files[0]).toMatchObject({ exact: true, proof: { differingFrames: 0 } });
    expect(line.conform.find(({ what }) => what.startsWith('picture packets'))).toMatchObject({ equal: true });
    // The edit's times are those of before; the file says which of them it holds.
    expect([event.startSeconds! - originSeconds, event.endSeconds! - originSeconds]).toEqual([
      expect.closeTo(3.24, 6),
      expect.closeTo(4.16, 6),
    ]);
    expect(event.target).toBe(name);
    expect(event.mediaStartSeconds! - originSeconds).toBeCloseTo(from, 4);
    if (/mov|mkv|mxf/.test(name)) {
      const frames = 5 + Math.round(from * 25);
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
  },
  60_000,
);

test.each([
  ['mpeg2.mov', ['-c:v', 'mpeg2video', '-g', '12', '-bf', '2', '-sc_threshold', '1000000000', ...PCM]],
  ['hevc.mkv', ['-c:v', 'libx265', '-x265-params', 'log-level=none:keyint=25:open-gop=1:scenecut=0', ...PCM]],
])(
  'of %s, whose pictures need some that come later, all that is wanted is shown',
  async (name, codecs) => {
    // From all sorts of places within their groups to all sorts of others.
    for (const [from, to] of [
      [3.24, 4.16],
      [3, 3.96],
      [2.84, 4.72],
    ] as const) {
      const { film, made, event, originSeconds } = await cutOut(name, codecs, [from, to], 0.04);
      const first = Math.round((event.mediaStartSeconds! - originSeconds) * 25);
      const all = hashesOf(film);
      const now = hashesOf(made);
      expect(first).toBeLessThanOrEqual(Math.round((from - 0.04) * 25));
      expect(first + now.length).toBeGreaterThanOrEqual(Math.round((to + 0.04) * 25));
      expect(now).toEqual(all.slice(first, first + now.length));
      const filled = wavBytes([VOICE, VOICE]).subarray(44);
      const [start, end] = [first, first + now.length].map((frame) => (frame / 25) * RATE * 6);
      expect(soundOf(made).equals(filled.subarray(start, end))).toBe(true);
    }
  },
  120_000,
);

test('coded sound is cut with its picture, as near as its coder comes', async () => {
  const { film, made, line } = await cutOut('coded.mp4', [...LONG_GOP, '-c:a', 'aac'], [3.24, 4.16], 0.2);
  expect(shown(made).frames).toBe(60);
  expect(sumOf(packetsOf(made))).toBe(sumOf(packetsOf(film).slice(60, 120)));
  expect(line.receipt.files[0].exact).toBe(false);
  expect(Math.abs(soundOf(made).length / 6 - 2.4 * RATE)).toBeLessThan(2048);
}, 60_000);

test('packed sound without a picture is cut to what is used', async () => {
  const { made, event } = await cutOut('voice.flac', [], [3.24, 4.16], 0.2);
  const filled = wavBytes([VOICE, VOICE]).subarray(44);
  expect(soundOf(made).equals(filled.subarray(3.04 * RATE * 6, 4.36 * RATE * 6))).toBe(true);
  expect(event.mediaStartSeconds).toBeCloseTo(3.04, 6);
}, 60_000);

test.each([
  ['at its beginning', [0.2, 0.8], 0, 30],
  ['at its end', [9, 9.96], 210, 250],
  ['all over', [0.2, 9.96], 0, 250],
] as const)(
  'what is used %s goes on to there',
  async (_, [from, to], first, end) => {
    const { film, made } = await cutOut('long.mov', [...LONG_GOP, ...PCM], [from, to], 0.3);
    expect(sumOf(packetsOf(made))).toBe(sumOf(packetsOf(film).slice(first, end)));
    const filled = wavBytes([VOICE, VOICE]).subarray(44);
    expect(soundOf(made).equals(filled.subarray((first / 25) * RATE * 6, (end / 25) * RATE * 6))).toBe(true);
  },
  60_000,
);
