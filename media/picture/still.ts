import { writeFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { identifyContainer } from '../read/container.ts';
import { readStill } from '../ffmpeg/still.ts';
import { FileSource } from '../read/fileSource.ts';

// Past the slate or the black that many takes begin with.
const SHARE_INTO_CLIP = 0.1;

/** A small still of a file's picture. @returns whether there is one now; a picture that can't be decoded keeps nobody from the sound */
export async function writeStillOf(path: string, durationSeconds: number, stillPath: string): Promise<boolean> {
  const file = await FileSource.open(path);
  const { demuxer } = await identifyContainer(file, basename(path)).finally(() => file.close());
  const still = demuxer === null ? null : await readStill({ path, demuxer }, durationSeconds * SHARE_INTO_CLIP);
  if (still) await writeFile(stillPath, still);
  return still !== null;
}
