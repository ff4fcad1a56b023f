import { basename } from 'node:path';
import { FFMPEG, reading, type CodedInput } from '../ffmpeg/coded.ts';
import { Run } from '../ffmpeg/run.ts';

/** Words for an output of FFmpeg that tells the hash of all packets of the picture, as they are stored. */
export const PICTURE_HASH = ['-map', '0:v', '-c', 'copy', '-f', 'streamhash', '-hash', 'sha256', 'pipe:1'];

/** A hash over all packets of a file's picture; null where it has none. */
export async function pictureHash(input: CodedInput): Promise<string | null> {
  const run = new Run(FFMPEG, [...reading(input), ...PICTURE_HASH], basename(input.path));
  const hash = await pictureHashFrom(run);
  await run.complaint();
  return hash;
}

/** What such an output told. */
export async function pictureHashFrom(run: Run): Promise<string | null> {
  let text = '';
  for await (const piece of run.pieces()) text += piece.toString();
  const hashes = [...text.matchAll(/SHA256=([0-9a-f]{64})/gi)].map(([, hash]) => hash.toLowerCase());
  return hashes.length > 0 ? hashes.join(' ') : null;
}
