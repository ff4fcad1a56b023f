import { rm } from 'node:fs/promises';
import { basename } from 'node:path';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import { inspectFile } from './inspectFile.ts';
import { scratchFolder } from '../test/files.ts';
import { recordings, writeMutated, type Recording } from '../test/hostileFiles.ts';

// The short form of `npm run bench -- hostile`: files that somebody or something has spoilt give a measurement or a sentence.

let folder: string;
let whole: Recording[];
beforeAll(async () => {
  folder = await scratchFolder();
  whole = await recordings(folder);
});

const ENDINGS = ['wav', 'aiff', 'flac', 'mp3', 'aac', 'm4a', 'mov', 'mkv', 'ogg', 'caf', 'avi', 'ts'];

test.each(ENDINGS)(
  '%s: whole it is read, spoilt it is read as far as it goes or refused in a sentence that names it',
  async (ending) => {
    const recording = whole.find(({ name }) => name === `clip.${ending}`)!;
    let refused = 0;
    for (let n = 0; n < 5; n++) {
      // The first is as it was made.
      const path =
        n === 0
          ? `${folder}/made.${ending}`
          : await writeMutated(folder, recording, whole, ENDINGS.indexOf(ending) * 100 + n);
      try {
        const { inspection } = await inspectFile(path);
        expect(Inspection.safeParse(inspection).success).toBe(true);
        expect(inspection.format.durationSeconds).toBeGreaterThan(0);
      } catch (error) {
        if (n === 0 || !(error instanceof Refusal)) throw error;
        refused++;
        expect(error.message).toContain(basename(path));
        expect(error.message).toMatch(/\.$/);
        expect(error.code).not.toBe('interrupted');
      }
      if (n > 0) await rm(path);
    }
    expect(refused).toBeLessThan(5);
  },
  60_000,
);
