import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import fc from 'fast-check';
import { mix } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { routed, splitToMonos, fillFrom, swapSides, selectChannel, pass } from '@pocket-twin/core/repair/plan/plans.ts';
import { noFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { inspectFile } from '../read/inspectFile.ts';
import { keepSums, readSums } from '../read/keptSums.ts';
import { scratchFolder, writeTestWav } from '../test/files.ts';
import { writeRepair } from './writeRepair.ts';

// What only moves channels is not measured anew: every number of its receipt is still the one that measuring it would give.

const SIDES = [1, 2, 3, 4, 5].map((seed) => mix(chatter(0.1 / seed, 3, seed), noise(0.0004 * seed, 3, seed + 9)));

async function written(channels: Float64Array[], repair: Repair, withSums: boolean): Promise<unknown[]> {
  const folder = await scratchFolder();
  const path = await writeTestWav(join(folder, 'source.wav'), channels);
  const { inspection, facts, pcm, sums } = await inspectFile(path);
  await keepSums(join(folder, 'sums'), sums);
  const receipt = await writeRepair(
    {
      clip: {
        path,
        name: 'source.wav',
        inspection,
        facts,
        pcm: pcm!,
        stamp: null,
        sums: withSums ? join(folder, 'sums') : null,
      },
      repair,
      channelNames: noFacts(channels.length).trackNames,
      words: pcm!.words,
      targets: repair.outputs.map((_, i) => join(folder, `out-${i}.wav`)),
      packing: null,
      overwrite: true,
    },
    () => undefined,
  );
  for (const file of receipt.files) {
    // To the digit what reading the file itself gives.
    const measured = await inspectFile(join(folder, file.name));
    expect(file.after).toEqual(measured.inspection);
  }
  return receipt.files.map(({ after }) => after);
}

test.each<[string, number, Repair]>([
  ['filled', 2, fillFrom(1, 2)],
  ['filled from the other', 2, fillFrom(2, 2)],
  ['swapped', 2, swapSides(2)],
  ['one side alone', 2, selectChannel(2, 2)],
  ['split', 4, splitToMonos(4)],
  ['four channels, neighbours swapped', 4, swapSides(4)],
])('%s: derived and measured are one', async (_, channels, repair) => {
  const sides = SIDES.slice(0, channels);
  expect(await written(sides, repair, true)).toEqual(await written(sides, repair, false));
});

test('any routing of single channels: numbers follow where they can, and are measured where not', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.integer({ min: 2, max: 5 }).chain((width) =>
        fc.record({
          width: fc.constant(width),
          inputs: fc.array(fc.integer({ min: 1, max: width }), { minLength: 1, maxLength: 6 }),
        }),
      ),
      async ({ width, inputs }) => {
        await written(SIDES.slice(0, width), routed(width, inputs.map(pass)), true);
      },
    ),
    { numRuns: 4 },
  );
});

test('sums that are damaged, missing or of another clip are no sums', async () => {
  const folder = await scratchFolder();
  const one = await inspectFile(await writeTestWav(join(folder, 'a.wav'), SIDES.slice(0, 2)));
  const path = join(folder, 'sums');
  await keepSums(path, one.sums);
  expect(await readSums(path, one.pcm!)).toEqual(one.sums);
  expect(await readSums(path, { ...one.pcm!, frames: 7 })).toBeNull();
  expect(await readSums(join(folder, 'none'), one.pcm!)).toBeNull();
  const { writeFile } = await import('node:fs/promises');
  await writeFile(path, (await readFile(path)).subarray(0, 100));
  expect(await readSums(path, one.pcm!)).toBeNull();
});
