import { execFileSync } from 'node:child_process';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { chatter } from '@pocket-twin/core/synth/noise.ts';
import { inspectFile } from './inspectFile.ts';
import { scratchFolder, wavBytes, writeTestWav } from '../test/files.ts';

const SECONDS = 2;
const VOICE = chatter(0.1, SECONDS, 1);
const NOTHING = new Float64Array(VOICE.length);
const OTHER = chatter(0.1, SECONDS, 2);

/** Packs a WAV with FFmpeg. */
function pack(wav: string, target: string, ...options: string[]): string {
  execFileSync('ffmpeg', ['-nostdin', '-loglevel', 'error', '-y', '-i', wav, ...options, target]);
  return target;
}

const PICTURE = ['-f', 'lavfi', '-i', `color=c=gray:s=64x48:r=25:d=${SECONDS}`];

test.each([
  ['a.aiff', 'aiff', 24, ['-c:a', 'pcm_s24be']],
  ['a.aifc', 'aifc', 32, ['-f', 'aiff', '-c:a', 'pcm_f32be']],
  ['a.caf', 'caf', 24, ['-c:a', 'pcm_s24be']],
  ['alac.caf', 'caf', 24, ['-c:a', 'alac']],
  ['a.m4a', 'mp4', 24, ['-c:a', 'alac']],
  ['aac.m4a', 'mp4', null, ['-c:a', 'aac', '-b:a', '192k']],
  ['a.aac', 'aac', null, ['-c:a', 'aac', '-b:a', '192k']],
  ['a.mp3', 'mp3', null, ['-b:a', '192k']],
  ['a.flac', 'flac', 24, []],
  ['a.ogg', 'ogg', null, ['-c:a', 'libvorbis']],
  ['a.opus', 'ogg', null, ['-c:a', 'libopus', '-b:a', '160k']],
  ['a.mka', 'mkv', 24, ['-c:a', 'pcm_s24le']],
  ['a.webm', 'webm', null, ['-c:a', 'libopus']],
  ['a.avi', 'avi', 24, [...PICTURE, '-c:v', 'mjpeg', '-c:a', 'pcm_s24le']],
  ['a.mxf', 'mxf', 24, [...PICTURE, '-c:v', 'mpeg2video', '-c:a', 'pcm_s24le']],
  ['a.ts', 'ts', null, [...PICTURE, '-c:v', 'mpeg2video', '-c:a', 'mp2', '-b:a', '256k']],
  ['a.mp4', 'mp4', null, [...PICTURE, '-c:v', 'mpeg4', '-c:a', 'aac', '-b:a', '192k']],
  ['a.mov', 'mov', 24, [...PICTURE, '-c:v', 'mjpeg', '-c:a', 'pcm_s24le']],
  ['rf64.wav', 'wav', 24, ['-c:a', 'pcm_s24le', '-rf64', 'always']],
] as [string, string, number | null, string[]][])(
  '%s is read, its one-sided voice found, its depth kept where it has one',
  async (name, container, bitDepth, options) => {
    const folder = await scratchFolder();
    const wav = await writeTestWav(join(folder, 'source.wav'), [VOICE, NOTHING]);
    const { inspection } = await inspectFile(pack(wav, join(folder, name), ...options));
    expect(inspection).toMatchObject({
      verdict: 'one-sided',
      sections: [{ side: 'left' }],
      format: {
        container,
        bitDepth,
        sampleRate: 48000,
        channels: 2,
        hasVideo: options.includes('-c:v'),
        warning: null,
      },
    });
    expect(Math.abs(inspection.format.frames - VOICE.length)).toBeLessThan(bitDepth === null ? 4096 : 1);
  },
);

test('the streams of a file become channels one after the other, to the very sample, and are told apart', async () => {
  const folder = await scratchFolder();
  const stereo = await writeTestWav(join(folder, 'stereo.wav'), [VOICE, OTHER]);
  const mono = await writeTestWav(join(folder, 'mono.wav'), [OTHER.subarray(0, 48000)]);
  const mov = join(folder, 'a.mov');
  execFileSync('ffmpeg', [
    '-nostdin',
    '-loglevel',
    'error',
    '-i',
    stereo,
    '-i',
    mono,
    '-map',
    '0:a',
    '-map',
    '1:a',
    '-c:a',
    'pcm_s24le',
    '-metadata:s:a:1',
    'handler_name=Boom',
    '-timecode',
    '10:00:00:00',
    mov,
  ]);
  const workingCopy = join(folder, 'a.pcm');
  const { inspection, facts } = await inspectFile(mov, { workingCopy });
  expect(inspection.format).toMatchObject({ channels: 3, frames: VOICE.length, warning: null });
  expect(facts.streams).toMatchObject([
    { channels: 2, codec: 'pcm_s24le' },
    { channels: 1, name: 'Boom' },
  ]);
  expect(facts.trackNames[2]).toBe('Boom');
  const padded = new Float64Array(VOICE.length);
  padded.set(OTHER.subarray(0, 48000));
  expect(
    Buffer.compare(await readFile(workingCopy), wavBytes([VOICE, OTHER, padded]).subarray(-VOICE.length * 9)),
  ).toBe(0);
});

test('a file with a picture tells its frame rate, start and maker', async () => {
  const folder = await scratchFolder();
  const wav = await writeTestWav(join(folder, 'source.wav'), [VOICE, NOTHING]);
  const mov = pack(
    wav,
    join(folder, 'a.mov'),
    ...PICTURE,
    '-c:v',
    'mjpeg',
    '-c:a',
    'pcm_s24le',
    '-timecode',
    '01:00:00:05',
    '-metadata',
    'model=Heron 2',
    '-metadata',
    'creation_time=2026-08-14T09:30:00Z',
    '-movflags',
    'use_metadata_tags',
  );
  const { facts } = await inspectFile(mov);
  expect(facts).toMatchObject({
    recorder: 'Heron 2',
    frameRate: { numerator: 25, denominator: 1, dropFrame: false },
    startSamples: 3600.2 * 48000,
    recordedAt: '2026-08-14T09:30:00.000Z',
  });
});

test('an encrypted file is refused as such, also where its container calls the stream by the codec inside', async () => {
  const folder = await scratchFolder();
  const wav = await writeTestWav(join(folder, 'source.wav'), [VOICE, NOTHING]);
  const key = '0123456789abcdef0123456789abcdef';
  const locked = pack(
    wav,
    join(folder, 'locked.mp4'),
    '-c:a',
    'aac',
    '-encryption_scheme',
    'cenc-aes-ctr',
    '-encryption_key',
    key,
    '-encryption_kid',
    key,
  );
  await expect(inspectFile(locked)).rejects.toThrow('locked.mp4 is encrypted. Export it without protection.');
});

test('64 channels are read, one that speaks among 63 that do not is found; 65 are refused', async () => {
  const folder = await scratchFolder();
  const channels = (count: number): Float64Array[] =>
    Array.from({ length: count }, (_, c) => (c === 40 ? VOICE : NOTHING));
  const { inspection } = await inspectFile(await writeTestWav(join(folder, 'desk.wav'), channels(64)));
  expect(inspection).toMatchObject({
    verdict: 'multichannel',
    headline: 'Only channel 41 carries sound of its own.',
    detail: 'Nothing on channels 1 to 40 and 42 to 64.',
  });
  expect(inspection.channels.filter(({ content }) => content === 'programme').map(({ channel }) => channel)).toEqual([
    41,
  ]);
  await expect(inspectFile(await writeTestWav(join(folder, 'more.wav'), channels(65)))).rejects.toThrow(
    'more.wav has 65 channels; up to 64 can be read.',
  );
});
