import { execFileSync } from 'node:child_process';
import { chmod, readFile, stat } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { withTrim } from '@pocket-twin/core/repair/plan/edit.ts';
import { fillFrom, leaveAsItIs, swapSides } from '@pocket-twin/core/repair/plan/plans.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { inspectFile } from '../read/inspectFile.ts';
import { scratchFolder, writeTestWav } from '../test/files.ts';
import { handOffClip } from './handOffClip.ts';
import type { HandedOff } from './handoffOrder.ts';

// A film whose sound is plain words: everything but those words stays where and as it is.

const VOICE = chatter(0.1, 3, 1);
const HISS = noise(0.0006, 3, 4);
const MUSIC = noise(0.05, 3, 7);

let folder = '';
let wav = '';
let other = '';
beforeAll(async () => {
  folder = await scratchFolder();
  wav = await writeTestWav(join(folder, 'sound.wav'), [VOICE, HISS]);
  other = await writeTestWav(join(folder, 'other.wav'), [MUSIC, VOICE]);
});

function ffmpeg(...words: string[]): string {
  return execFileSync('ffmpeg', ['-v', 'error', '-y', ...words], { encoding: 'utf8' });
}

/** A film with timecode, a title and its sound as asked for. */
function film(name: string, words: string[], maps = ['-map', '1:a']): string {
  const path = join(folder, name);
  ffmpeg(
    ...['-f', 'lavfi', '-i', 'testsrc=d=3:s=64x48:r=25', '-i', wav, '-i', other, '-map', '0:v', ...maps],
    ...['-c:v', 'libx264', '-preset', 'ultrafast', '-pix_fmt', 'yuv420p', '-metadata', 'title=Ferry'],
    ...[...(name.endsWith('.mov') ? ['-timecode', '10:20:30:05'] : []), ...words, path],
  );
  return path;
}

async function handedOff(
  path: string,
  repairFor = (channels: number): Repair => fillFrom(1, channels),
): Promise<{ result: HandedOff; made: string }> {
  const scratch = await scratchFolder();
  const { inspection, facts, pcm, sums } = await inspectFile(path, { workingCopy: join(scratch, 'copy.pcm') });
  const out = await scratchFolder();
  const result = await handOffClip(
    {
      clip: { path, inspection, facts, pcm: pcm!, sketch: null, sums, stamp: null },
      repair: repairFor(inspection.format.channels),
      ...{ span: null, folder: out, stem: 'film', format: 'same', bits: 'same', codedKbits: 160, scratch },
      inThreads: false,
      claim: (paths) => Promise.resolve(paths),
    },
    () => undefined,
  );
  return { result, made: join(out, result.files[0].path) };
}

/** The words of one sound stream, as another program reads them. */
function soundOf(path: string, stream = 0): Buffer {
  return execFileSync(
    'ffmpeg',
    ['-v', 'error', '-i', path, '-map', `0:a:${stream}`, '-c:a', 'pcm_s32le', '-f', 's32le', '-'],
    { maxBuffer: 1e8 },
  );
}

/** What the file says of itself, as another program reads it. */
function tagsOf(path: string): Record<string, string> {
  const told = execFileSync('ffprobe', ['-v', 'error', '-show_format', '-of', 'json', path], { encoding: 'utf8' });
  return (JSON.parse(told) as { format: { tags: Record<string, string> } }).format.tags;
}

const picture = (path: string): string =>
  ffmpeg('-i', path, '-map', '0:v', '-map', '0:d?', '-c', 'copy', '-f', 'streamhash', '-');

const left = (stereo: Buffer): Buffer => {
  const filled = Buffer.from(stereo);
  for (let at = 0; at + 8 <= filled.length; at += 8) filled.copy(filled, at + 4, at, at + 4);
  return filled;
};

function differingBytes(a: Buffer, b: Buffer): number {
  let count = 0;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) count++;
  return count;
}

test.each([
  ['in 24 bit', 'mov', ['-c:a', 'pcm_s24le']],
  ['in 16 bit, big end first', 'mov', ['-c:a', 'pcm_s16be']],
  ['in 24 bit, big end first', 'mov', ['-c:a', 'pcm_s24be']],
  ['in 32-bit float', 'mov', ['-c:a', 'pcm_f32le']],
  ['with its tables at the head', 'mov', ['-c:a', 'pcm_s24le', '-movflags', '+faststart']],
])('words %s are replaced where they lie, and nothing else moves', async (what, ending, words) => {
  const path = film(`${what}.${ending}`, words);
  await chmod(path, 0o444);
  const { result, made } = await handedOff(path);
  const [before, after] = [await readFile(path), await readFile(made)];
  // At most the other side's words differ, half of the sound, and what tells of the movie box that it is longer or elsewhere.
  const soundBytes = (soundOf(path).length / 4) * (result.receipt.before.format.bitDepth! / 8);
  expect(differingBytes(before, after)).toBeGreaterThan(1000);
  expect(differingBytes(before, after)).toBeLessThanOrEqual(soundBytes / 2 + 4);
  expect(tagsOf(made)).toEqual({
    ...tagsOf(path),
    coding_history: expect.stringMatching(/^A=PCM,F=48000,.*T=Pocket Twin; Fill right from left\r\n$/),
  });
  expect(soundOf(made).equals(left(soundOf(path)))).toBe(true);
  expect(picture(made)).toBe(picture(path));
  expect(result.files[0].conform.every(({ equal }) => equal)).toBe(true);
  expect(result.receipt.files[0]).toMatchObject({ exact: true, proof: { differingFrames: 0 } });
  expect((await stat(made)).mode & 0o200).toBe(0o200);
});

test('what was done before stays in a film’s history, however often it is handed off, and its own tags with it', async () => {
  const path = film('history.mov', [
    ...['-c:a', 'pcm_s24le', '-movflags', '+use_metadata_tags', '-metadata', 'gauge=of ours'],
    ...['-metadata', 'coding_history=A=ANALOGUE,M=mono,T=Tape'],
  ]);
  const once = await handedOff(path);
  const twice = await handedOff(once.made);
  const line = 'A=PCM,F=48000,W=24,M=stereo,T=Pocket Twin; Fill right from left\r\n';
  expect(tagsOf(twice.made)).toEqual({
    ...tagsOf(path),
    coding_history: `A=ANALOGUE,M=mono,T=Tape\r\n${line}${line}`,
  });
  expect(tagsOf(twice.made)).toMatchObject({ title: 'Ferry', gauge: 'of ours' });
  expect((await readFile(twice.made)).toString('latin1').match(/mdtacoding_history/g)).toHaveLength(1);
  expect(picture(twice.made)).toBe(picture(path));
});

test('what is measured of words that only changed places is what measuring the new film gives', async () => {
  const path = film('swapped.mov', ['-c:a', 'pcm_s24be']);
  const { result, made } = await handedOff(path, swapSides);
  const { inspection } = await inspectFile(made, { workingCopy: join(await scratchFolder(), 'copy.pcm') });
  expect(result.receipt.files[0].after).toEqual(inspection);
  expect(result.receipt.files[0].bytes).toBe((await stat(made)).size);
});

test('words that are turned over are replaced as well', async () => {
  const path = film('sum.mov', ['-c:a', 'pcm_s24le']);
  const turned = (channels: number): Repair => withTrim(leaveAsItIs(channels), 2, { polarity: 'inverted' });
  const { result, made } = await handedOff(path, turned);
  const [before, after] = [soundOf(path), soundOf(made)];
  for (let at = 0; at < before.length; at += 8 * 101) {
    expect(after.readInt32LE(at)).toBe(before.readInt32LE(at));
    expect(after.readInt32LE(at + 4) + before.readInt32LE(at + 4)).toBe(0);
  }
  expect(result.receipt.files[0]).toMatchObject({ exact: true, bytes: (await stat(made)).size });
  expect(picture(made)).toBe(picture(path));
});

test('a film with a sound stream a microphone keeps them', async () => {
  const maps = [
    ...['-filter_complex', '[1:a]channelsplit=channel_layout=stereo[l][r]', '-map', '[l]', '-map', '[r]'],
    ...['-metadata:s:a:0', 'title=Lavalier'],
  ];
  const path = film('two monos.mov', ['-c:a', 'pcm_s24le'], maps);
  const { result, made } = await handedOff(path);
  expect(soundOf(made, 0).equals(soundOf(path, 0))).toBe(true);
  expect(soundOf(made, 1).equals(soundOf(path, 0))).toBe(true);
  expect(result.files[0].conform.find(({ what }) => what === 'channel layout')).toMatchObject({
    ...{ old: '2 streams', new: '2 streams', equal: true },
  });
  expect(result.receipt.files.map(({ exact, proof }) => [exact, proof.differingFrames])).toEqual([
    [true, 0],
    [true, 0],
  ]);
});

test.each([
  ['whose pieces each have their own tables', 'mov', ['-c:a', 'pcm_s24le', '-movflags', '+frag_keyframe+empty_moov']],
  ['that is Matroska', 'mkv', ['-c:a', 'pcm_s24le']],
  ['whose sound is coded', 'mov', ['-c:a', 'aac']],
])('a film %s is put together anew, and right', async (what, ending, words) => {
  const path = film(`${what}.${ending}`, words);
  const { result, made } = await handedOff(path);
  expect(picture(made).split('\n')[0]).toBe(picture(path).split('\n')[0]);
  expect(result.files[0].conform.find(({ what: line }) => line.startsWith('picture packets'))).toMatchObject({
    equal: true,
  });
  if (!words.includes('aac')) expect(soundOf(made).equals(left(soundOf(path)))).toBe(true);
  expect(basename(made)).toBe(`film.${ending}`);
});

test('a film that was cut without being made anew, by its edit list, keeps that', async () => {
  const whole = film('whole.mov', ['-c:a', 'pcm_s24le', '-g', '50']);
  const path = join(folder, 'cut.mov');
  ffmpeg('-ss', '0.53', '-i', whole, '-map', '0:v', '-map', '0:a', '-c', 'copy', path);
  const { result, made } = await handedOff(path);
  expect(soundOf(made).equals(left(soundOf(path)))).toBe(true);
  expect(result.files[0].conform.filter(({ equal }) => !equal)).toEqual([]);
  const times = (of: string): string =>
    execFileSync(
      'ffprobe',
      ['-v', 'error', '-show_entries', 'stream=codec_type,start_time,duration', '-of', 'csv', of],
      {
        encoding: 'utf8',
      },
    );
  for (const kind of ['video', 'audio'])
    expect(times(made)).toContain(
      times(path)
        .split('\n')
        .find((line) => line.includes(kind)),
    );
});
