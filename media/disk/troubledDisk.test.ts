import { execFileSync } from 'node:child_process';
import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { fillFrom, splitToMonos } from '@pocket-twin/core/repair/plan/plans.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { inspectFile } from '../read/inspectFile.ts';
import { renderFile, type RenderJob } from '../write/renderFile.ts';
import { scratchFolder, writeTestWav } from '../test/files.ts';
import { smallDisk, withFailingHandles } from '../test/troubledDisk.ts';

// Disks that are full, and disks that fail: a sentence or another try, never "damaged", and nothing left under a final name.

const LEFT = chatter(0.1, 12, 1);
const RIGHT = noise(0.001, 12, 2);

async function source(ending: string, ...args: string[]): Promise<string> {
  const folder = await scratchFolder();
  const wav = await writeTestWav(join(folder, 'take.wav'), [LEFT, RIGHT]);
  if (ending === 'wav') return wav;
  execFileSync('ffmpeg', ['-nostdin', '-loglevel', 'error', '-i', wav, ...args, join(folder, `take.${ending}`)]);
  return join(folder, `take.${ending}`);
}

async function refusalOf(act: Promise<unknown>): Promise<[code: string, sentence: string]> {
  const error = await act.then(
    () => null,
    (thrown: unknown) => thrown,
  );
  if (!(error instanceof Refusal)) throw new Error(`Not refused: ${String(error)}`);
  return [error.code, error.message];
}

test.each([
  ['a decoded copy', 'flac', ['-c:a', 'flac'], 3],
  ['a decoded copy of unknown length', 'aac', ['-c:a', 'aac', '-f', 'adts'], 3],
  ['several streams', 'mkv', ['-map', '0:a', '-map', '0:a', '-c:a', 'flac'], 5],
] as const)('no room for %s is no room, and nothing is left', async (_what, ending, args, megabytes) => {
  const path = await source(ending, ...args);
  const disk = await smallDisk(megabytes);
  try {
    const [code, sentence] = await refusalOf(
      inspectFile(path, { workingCopy: join(disk.folder, 'working.pcm'), outlineFolder: join(disk.folder, 'outline') }),
    );
    expect(code).toBe('no-room');
    expect(sentence).toMatch(
      new RegExp(
        `^There is no room on the disk to (read|bring in) take\\.${ending}.*\\. Free some and measure it again\\.$`,
      ),
    );
    expect(await readdir(disk.folder)).toEqual([]);
  } finally {
    disk.remove();
  }
});

test('no room for an outline is no room', async () => {
  const path = await source('wav');
  const disk = await smallDisk(1);
  try {
    // A disk that was nearly full before.
    execFileSync('dd', ['if=/dev/zero', `of=${join(disk.folder, 'other')}`, 'bs=1k', 'count=1000'], {
      stdio: 'ignore',
    });
    expect((await refusalOf(inspectFile(path, { outlineFolder: join(disk.folder, 'outline') })))[0]).toBe('no-room');
    expect(await readdir(disk.folder)).toEqual(['other']);
  } finally {
    disk.remove();
  }
});

test('no room for what is written leaves nothing under a final name', async () => {
  const path = await source('wav');
  const { pcm, facts } = await inspectFile(path);
  const disk = await smallDisk(4);
  try {
    const job = (repair: Repair, names: string[]): RenderJob => ({
      source: pcm!,
      measured: null,
      chunksFrom: path,
      facts,
      channelNames: facts.trackNames,
      repair,
      words: pcm!.words,
      targets: names.map((name) => join(disk.folder, name)),
      overwrite: false,
    });
    await renderFile(job(fillFrom(1, 2), ['fits.wav']));
    expect(await refusalOf(renderFile(job(splitToMonos(2), ['left.wav', 'right.wav'])))).toEqual([
      'no-room',
      expect.stringMatching(/^There is no room on the disk for (left|right)\.wav\. Free some and write it again\.$/),
    ]);
    expect(await readdir(disk.folder)).toEqual(['fits.wav']);
  } finally {
    disk.remove();
  }
});

test.each([1, 3])(
  'a disk that fails at the read number %d is said to fail: the recording is not damaged',
  async (call) => {
    const path = await source('wav');
    const inspected = withFailingHandles('read', 'EIO', 'take.wav', call, () => inspectFile(path));
    expect(await refusalOf(inspected)).toEqual([
      'interrupted',
      'The disk that holds take.wav cannot read or write just now. Check the disk and try again.',
    ]);
  },
);

test.each(['write', 'sync'] as const)(
  'a disk that fails at %s while a copy or a repair is written is said to fail, and nothing is left under a final name',
  async (method) => {
    const [path, coded] = [await source('wav'), await source('flac', '-c:a', 'flac')];
    const { pcm, facts } = await inspectFile(path);
    const out = await scratchFolder();
    const job: RenderJob = {
      source: pcm!,
      measured: null,
      chunksFrom: path,
      facts,
      channelNames: facts.trackNames,
      repair: fillFrom(1, 2),
      words: pcm!.words,
      targets: [join(out, 'a.wav')],
      overwrite: false,
    };
    expect((await refusalOf(withFailingHandles(method, 'EIO', out, 1, () => renderFile(job))))[0]).toBe('interrupted');
    expect(
      (
        await refusalOf(
          withFailingHandles(method, 'EIO', out, 1, () =>
            inspectFile(coded, { workingCopy: join(out, 'working.pcm') }),
          ),
        )
      )[0],
    ).toBe('interrupted');
    expect((await refusalOf(withFailingHandles(method, 'ENOSPC', out, 1, () => renderFile(job))))[0]).toBe('no-room');
    expect(await readdir(out)).toEqual([]);
  },
);
