import { readFile, truncate, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { chatter } from '@pocket-twin/core/test/signals.ts';
import { encodeFlac } from './encodeFlac.ts';
import { inspectFile } from './inspectFile.ts';
import { scratchFolder, writeTestWav } from './test/files.ts';

const VOICE = chatter(0.1, 2, 1);
const NOTHING = new Float64Array(VOICE.length);

test('a FLAC file is decoded to the very samples it was packed from', async () => {
  const folder = await scratchFolder();
  const wav = await writeTestWav(join(folder, 'a.wav'), [VOICE, NOTHING]);
  const flac = await encodeFlac(wav, join(folder, 'a.flac'), false);
  const copy = join(folder, 'a.pcm');
  const { inspection, pcm } = await inspectFile(flac, { workingCopy: copy });
  expect(inspection).toMatchObject({ verdict: 'one-sided', format: { container: 'flac', bitDepth: 24, frames: VOICE.length } });
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
