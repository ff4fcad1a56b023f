import { join } from 'node:path';
import { sine } from '@pocket-twin/core/synth/tones.ts';
import { contentHash } from '../disk/contentHash.ts';
import { inspectFile } from './inspectFile.ts';
import { readSketch } from './sketch.ts';
import { scratchFolder, writeTestWav } from '../test/files.ts';

test('the ribbon of a row has the peaks of each part of the clip, and nothing where there is nothing', async () => {
  const folder = await scratchFolder();
  const tone = sine(997, 0.5, 8);
  // Left: loud, then 20 dB quieter; right: silent, then loud for the last quarter.
  const left = tone.map((x, i) => (i < 4 * 48000 ? x : x / 10));
  const right = tone.map((x, i) => (i < 6 * 48000 ? 0 : x));
  const path = await writeTestWav(join(folder, 'steps.wav'), [left, right]);
  const outlineFolder = join(folder, 'outline');
  await inspectFile(path, { outlineFolder });
  const [above, below] = await readSketch(outlineFolder, tone.length, 2);
  const columns = above.peaksDbfs.length;
  const part = (peaks: (number | null)[], from: number, to: number): (number | null)[] => [
    ...new Set(peaks.slice(Math.ceil(from * columns) + 1, Math.floor(to * columns) - 1)),
  ];
  expect([above.channel, below.channel]).toEqual([1, 2]);
  expect(columns).toBeGreaterThan(40);
  expect(part(above.peaksDbfs, 0, 0.5)).toEqual([-6]);
  expect(part(above.peaksDbfs, 0.5, 1)).toEqual([-26]);
  expect(part(below.peaksDbfs, 0, 0.75)).toEqual([null]);
  expect(part(below.peaksDbfs, 0.75, 1)).toEqual([-6]);
});

test('the same content has the same hash whatever it is called; one changed bit has another', async () => {
  const folder = await scratchFolder();
  const tone = sine(440, 0.5, 0.5);
  const [a, b] = [
    await writeTestWav(join(folder, 'a.wav'), [tone]),
    await writeTestWav(join(folder, 'other name.wav'), [tone]),
  ];
  const c = await writeTestWav(join(folder, 'c.wav'), [tone.map((x, i) => (i === 7000 ? x + 2 ** -23 : x))]);
  expect(await contentHash(a)).toMatch(/^[0-9a-f]{64}$/);
  expect(await contentHash(b)).toBe(await contentHash(a));
  expect(await contentHash(c)).not.toBe(await contentHash(a));
});
