import { open, readFile, truncate, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { ClipMeter } from '@pocket-twin/core/measure/stream/clipMeter.ts';
import { JOINT_LEVEL, outlineShape, VALUES_PER_LANE } from '@pocket-twin/core/outline/outline.ts';
import { OutlineBuilder } from '@pocket-twin/core/outline/outlineBuilder.ts';
import { wavFrame } from '@pocket-twin/core/riff/wavFrame.ts';
import { chatter } from '@pocket-twin/core/synth/noise.ts';
import { packWav } from '../write/packWav.ts';
import { inspectFile } from './inspectFile.ts';
import { INT24, scratchFolder, wavBytes, writeTestWav } from '../test/files.ts';

const VOICE = chatter(0.1, 2, 1);
const FRAME_BYTES = 6;
const NOTHING = new Float64Array(VOICE.length);

test('a FLAC file is decoded to the very samples it was packed from', async () => {
  const folder = await scratchFolder();
  const wav = await writeTestWav(join(folder, 'a.wav'), [VOICE, NOTHING]);
  const flac = await packWav(wav, join(folder, 'a.flac'), {
    as: 'flac',
    words: { kind: 'integer', bits: 24 },
    overwrite: false,
  });
  const copy = join(folder, 'a.pcm');
  const { inspection, pcm } = await inspectFile(flac, { workingCopy: copy });
  expect(inspection).toMatchObject({
    verdict: 'one-sided',
    format: { container: 'flac', bitDepth: 24, frames: VOICE.length },
  });
  expect(pcm).toMatchObject({ path: copy, offsetBytes: 0, words: { bits: 24 } });
  expect(Buffer.compare(await readFile(copy), (await readFile(wav)).subarray(44))).toBe(0);
});

test('a WAV cut off in the middle is read as far as it goes, and says so', async () => {
  const path = await writeTestWav(join(await scratchFolder(), 'cut.wav'), [VOICE, NOTHING]);
  await truncate(path, 44 + 48000 * 6);
  const { inspection } = await inspectFile(path);
  expect(inspection).toMatchObject({ verdict: 'one-sided', format: { frames: 48000 } });
  expect(inspection.format.warning).toMatch(/^cut\.wav is cut off: 1\.0 of 2\.0 s are there\./);
});

test.each([
  ['text.wav', 'just words, no sound', /^text\.wav is a text file inside/],
  ['empty.wav', '', /^empty\.wav is empty/],
  ['playlist.m3u8', '#EXTM3U\nhttp://127.0.0.1/secret.ts\n', /^playlist\.m3u8 is a text file inside/],
  ['noise.mov', `\0\0\0\x14ftypqt  ${'\x01\x02\x03'.repeat(300)}`, /^noise\.mov has no sound in it that can be read/],
  ['head.wav', 'RIFF\x24\0\0\0WAVE', /^head\.wav is a WAV file without/],
])('%s is refused in one sentence', async (name, content, sentence) => {
  const path = join(await scratchFolder(), name);
  await writeFile(path, content, 'latin1');
  await expect(inspectFile(path)).rejects.toThrow(sentence);
});

test('a WAV that one thread measures has every level of its outline, to the last bucket', async () => {
  const folder = await scratchFolder();
  const sound = chatter(0.1, 30, 4);
  const path = await writeTestWav(join(folder, 'short.wav'), [sound, sound]);
  await inspectFile(path, { outlineFolder: join(folder, 'outline') });
  const { bucketsPerLevel } = outlineShape(sound.length, 2);
  expect(bucketsPerLevel.length).toBeGreaterThan(2);
  for (const [level, buckets] of bucketsPerLevel.entries()) {
    const bytes = await readFile(join(folder, 'outline', `${level}.f32`));
    expect(bytes.length).toBe(buckets * 3 * VALUES_PER_LANE * 4);
  }
});

test('a long WAV, of which another thread measures some, has the numbers and the outline that one thread gives', async () => {
  // Half an hour that holds nothing but at its ends, and takes no room on the disk.
  const frames = 1800 * 48_000;
  const voices = [chatter(0.1, 60, 2), chatter(0.1, 60, 3)].map((voice) =>
    wavBytes([voice, voice.map((x) => x / 2)], INT24),
  );
  const folder = await scratchFolder();
  const path = join(folder, 'long.wav');
  const file = await open(path, 'w');
  const { head } = wavFrame({ format: INT24, channels: 2, sampleRate: 48_000, frames, speakerMask: 0, chunks: [] });
  const words = voices.map((bytes) => bytes.subarray(44));
  await file.truncate(head.length + frames * FRAME_BYTES);
  await file.write(head, 0, head.length, 0);
  await file.write(words[0], 0, words[0].length, head.length);
  await file.write(words[1], 0, words[1].length, head.length + frames * FRAME_BYTES - words[1].length);
  await file.close();
  const outlineFolder = join(folder, 'outline');
  const { sums, inspection } = await inspectFile(path, { outlineFolder });

  const levels: number[][] = [];
  const builder = new OutlineBuilder(2, (level, values) => {
    levels[level] ??= [];
    for (const value of values) levels[level].push(value);
  });
  const meter = new ClipMeter(48_000, 2, INT24, { onBuckets: builder.push });
  meter.push(words[0]);
  const nothing = new Uint8Array(48_000 * FRAME_BYTES);
  for (let second = 60; second < 1740; second++) meter.push(nothing);
  meter.push(words[1]);
  builder.finish();
  expect(sums).toEqual(meter.finishPart());
  for (const level of [0, JOINT_LEVEL, JOINT_LEVEL + 1]) {
    const bytes = await readFile(join(outlineFolder, `${level}.f32`));
    expect(Buffer.compare(bytes, Buffer.from(Float32Array.from(levels[level]).buffer))).toBe(0);
  }
  expect(inspection.verdict).toBe('fake-stereo');
});
