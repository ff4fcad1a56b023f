import { readFile, truncate, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { inspect } from '@pocket-twin/core/test/inspecting.ts';
import { chatter } from '@pocket-twin/core/synth/noise.ts';
import { packWav } from '../write/packWav.ts';
import { runInThread } from '../threads/pool.ts';
import { inspectFile } from './inspectFile.ts';
import { INT24, scratchFolder, wavBytes, writeTestWav } from '../test/files.ts';

const VOICE = chatter(0.1, 2, 1);
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

test('a long WAV measured by two threads gives the numbers that one gives', async () => {
  const part = chatter(0.1, 31, 2, 8000);
  const sound = new Float64Array(8000 * 700);
  for (let at = 0; at < sound.length; at += part.length) sound.set(part.subarray(0, sound.length - at), at);
  const path = join(await scratchFolder(), 'long.wav');
  await writeFile(path, wavBytes([sound, sound.map((x) => x / 2)], INT24, [], 8000));
  // The other thread has begun: it takes its half at the first turn it is given.
  await runInThread('ready', null);
  const { inspection } = await inspectFile(path);
  const wanted = await inspect([sound, sound.map((x) => x / 2)], 8000);
  const close = (value: number | null): unknown => expect.closeTo(value!, 4);
  expect(
    inspection.channels.map(({ truePeakDbtp, loudnessLufs, rmsDbfs }) => [truePeakDbtp, loudnessLufs, rmsDbfs]),
  ).toEqual(
    wanted.channels.map(({ truePeakDbtp, loudnessLufs, rmsDbfs }) => [
      close(truePeakDbtp),
      close(loudnessLufs),
      close(rmsDbfs),
    ]),
  );
  expect(inspection.verdict).toBe('fake-stereo');
});
