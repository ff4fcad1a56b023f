import { FileSource } from './fileSource.ts';
import { identifyContainer } from './container.ts';
import { writeStill } from './ffmpeg.ts';
import { basename } from 'node:path';

// Past the slate or the black that many takes begin with.
const SHARE_INTO_CLIP = 0.1;

/** A small still of a file's picture. @returns whether there is one now; a picture that can't be decoded keeps nobody from the sound */
export async function writeStillOf(path: string, durationSeconds: number, stillPath: string): Promise<boolean> {
  const file = await FileSource.open(path);
  const { demuxer } = await identifyContainer(file, basename(path)).finally(() => file.close());
  return demuxer !== null && writeStill({ path, demuxer }, durationSeconds * SHARE_INTO_CLIP, stillPath);
}
