import { execFile } from 'node:child_process';
import { createHash } from 'node:crypto';
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import { originOf } from '@pocket-twin/core/edit/usedStretches.ts';
import { editFrom } from '@pocket-twin/media/handoff/editFile.ts';
import { openSource } from '@pocket-twin/media/read/openSource.ts';
import { scratchFolder } from '@pocket-twin/media/test/files.ts';
import { buildApart } from './buildApart.ts';
import { readTruth } from './truth.ts';

const ROOT = fileURLToPath(new URL('..', import.meta.url));
// By the commands themselves: inside Jest the sound would take minutes.
const node = async (...args: string[]): Promise<string> =>
  // Something found is a status of its own.
  (
    await promisify(execFile)(process.execPath, args, { cwd: ROOT, maxBuffer: 1 << 26 }).catch(
      (error: { stdout: string }) => error,
    )
  ).stdout;

test('why the demo could not be built is told by whoever built it apart', async () => {
  const file = join(await scratchFolder(), 'a file');
  await writeFile(file, '');
  await expect(buildApart(join(file, 'demo'))).rejects.toMatchObject({ code: 'ENOTDIR' });
});

test('every clip of the demo is built the same each time, and is found to be what is true about it', async () => {
  const byCommand = async (): Promise<string> => {
    const folder = await scratchFolder();
    await node('--import', 'tsx', 'demo/main.ts', folder);
    return folder;
  };
  const inThread = await scratchFolder();
  // A whole run has built it once already.
  const [byServer, folder] = await Promise.all([buildApart(inThread), process.env.TEST_DEMO ?? byCommand()]);
  const folders = [folder, inThread];
  const truth = await readTruth(folder);
  expect(byServer).toEqual(truth);
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
  // The film's edit uses clips that are there, for no longer than they last, in both forms.
  for (const [name, count] of [
    ['the-last-crossing.otio', 10],
    ['the-last-crossing.edl', 6],
  ] as const) {
    const edit = editFrom(await readFile(join(folders[0], name), 'utf8'), name, null);
    const clips = await Promise.all(
      truth.map(async ({ file }) => {
        const source = await openSource(join(folders[0], file));
        await source.close();
        const { format, facts } = source;
        return {
          ...{ path: file, reel: null, durationSeconds: format.durationSeconds },
          startSeconds: facts.startSamples === null ? null : facts.startSamples / format.sampleRate,
        };
      }),
    );
    expect(edit.events.length).toBe(count);
    expect(edit.matches(clips).map(({ length }) => length)).toEqual(Array<number>(count).fill(1));
    for (const [i, event] of edit.events.entries()) {
      const clip = clips[edit.matches(clips)[i][0]];
      const origin = originOf(event, clip);
      expect(event.startSeconds! - origin).toBeGreaterThanOrEqual(0);
      // Coded clips say how long they are only when they are read.
      if (clip.durationSeconds > 0) expect(event.endSeconds! - origin).toBeLessThanOrEqual(clip.durationSeconds);
    }
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
  // Two people on a microphone each, and one who is heard near and far.
  const talkers = (file: string): number | null => found[truth.findIndex((one) => one.file === file)].pairs[0].talkers;
  expect([talkers('keeper-and-mate.wav'), talkers('office-near-far.wav'), talkers('river-dawn.wav')]).toEqual([
    2,
    1,
    null,
  ]);
}, 180_000);
