import { execFile } from 'node:child_process';
import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import { scratchFolder } from '@pocket-twin/media/test/files.ts';
import { DemoTruth } from './truth.ts';

const ROOT = fileURLToPath(new URL('..', import.meta.url));
// By the commands themselves: inside Jest the sound would take minutes.
const node = async (...args: string[]): Promise<string> =>
  // Something found is a status of its own.
  (
    await promisify(execFile)(process.execPath, args, { cwd: ROOT, maxBuffer: 1 << 26 }).catch(
      (error: { stdout: string }) => error,
    )
  ).stdout;

test('every clip of the demo is built the same each time, and is found to be what is true about it', async () => {
  const folders = [await scratchFolder(), await scratchFolder()];
  await Promise.all(folders.map((folder) => node('--import', 'tsx', 'demo/main.ts', folder)));
  const truth = DemoTruth.parse(JSON.parse(await readFile(join(folders[0], 'truth.json'), 'utf8')));
  expect(truth.length).toBeGreaterThanOrEqual(20);
  for (const { file } of truth) {
    const [first, second] = await Promise.all(
      folders.map(async (folder) =>
        createHash('sha256')
          .update(await readFile(join(folder, file)))
          .digest('hex'),
      ),
    );
    expect(`${file} ${first}`).toBe(`${file} ${second}`);
  }
  const lines = (
    await node('cli/bin/pocket-twin.mjs', 'inspect', '--json', ...truth.map(({ file }) => join(folders[0], file)))
  )
    .trim()
    .split('\n');
  const found = lines.map((line) => JSON.parse(line) as Inspection & { error: string | null });
  expect(
    found.map(
      ({ verdict, pairs, channels }, i) =>
        `${truth[i].file}: ${verdict} ${channels.length === 2 ? pairs[0].side : null}`,
    ),
  ).toEqual(truth.map(({ file, verdict, side }) => `${file}: ${verdict} ${side}`));
}, 180_000);
