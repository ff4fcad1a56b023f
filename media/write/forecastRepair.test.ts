import { rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { sumToMono, leaveAsItIs } from '@pocket-twin/core/repair/plan/plans.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { chatter } from '@pocket-twin/core/synth/noise.ts';
import { inspectFile } from '../read/inspectFile.ts';
import { scratchFolder, wavBytes } from '../test/files.ts';
import { forecastRepair } from './forecastRepair.ts';

let folder: string;
let long: PcmLocation;
let short: PcmLocation;
beforeAll(async () => {
  folder = await scratchFolder();
  const place = async (name: string, seconds: number): Promise<PcmLocation> => {
    const path = join(folder, name);
    const sides = [1, 2].map((seed) => chatter(0.1, seconds, seed, 8000));
    await writeFile(path, wavBytes(sides, undefined, [], 8000));
    return (await inspectFile(path)).pcm!;
  };
  long = await place('long.wav', 600);
  short = await place('short.wav', 20);
});
afterAll(() => rm(folder, { recursive: true }));

const late: Repair = { ...leaveAsItIs(2), trims: [{ channel: 1, gainDb: -3, polarity: 'normal', delaySamples: 20.5 }] };

test.each<[string, Repair]>([
  ['a sum', sumToMono(2)],
  ['a delay and a gain', late],
])('of a long clip %s is estimated at once, near what the whole gives, and it is said', async (_what, repair) => {
  const quick = await forecastRepair(long, repair, true);
  const whole = await forecastRepair(long, repair);
  expect([quick.isEstimate, whole.isEstimate]).toEqual([true, false]);
  quick.channels.forEach(({ loudnessLufs }, c) =>
    expect(Math.abs(loudnessLufs! - whole.channels[c].loudnessLufs!)).toBeLessThan(1),
  );
});

test('of a short clip nothing is left out', async () => {
  expect(await forecastRepair(short, late, true)).toEqual(await forecastRepair(short, late));
});
