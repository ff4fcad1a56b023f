import { basename } from 'node:path';
import { FFMPEG, reading, type CodedInput } from '../ffmpeg/coded.ts';
import { Run } from '../ffmpeg/run.ts';

/** A hash over all packets of a file's picture, as they are stored; null where it has none. */
export async function pictureHash(input: CodedInput): Promise<string | null> {
  const run = new Run(
    FFMPEG,
    [...reading(input), ...['-map', '0:v', '-c', 'copy', '-f', 'streamhash', '-hash', 'sha256', 'pipe:1']],
    basename(input.path),
  );
  let text = '';
  for await (const piece of run.pieces()) text += piece.toString();
  await run.complaint();
  const hashes = [...text.matchAll(/SHA256=([0-9a-f]{64})/gi)].map(([, hash]) => hash.toLowerCase());
  return hashes.length > 0 ? hashes.join(' ') : null;
}
