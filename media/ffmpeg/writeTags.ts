import { writeFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { FFMPEG, reading, type CodedInput } from './coded.ts';
import { Run } from './run.ts';

const MOST_BYTES = 1 << 20;

/** Writes what a file says of itself to a text of FFmpeg's own form (ffmetadata), for whoever makes another from it; empty where it says more than fits. */
export async function writeTags(input: CodedInput, path: string): Promise<void> {
  const run = new Run(
    FFMPEG,
    [...reading(input), '-map_chapters', '-1', '-f', 'ffmetadata', 'pipe:1'],
    basename(input.path),
  );
  const pieces: Buffer[] = [];
  let bytes = 0;
  for await (const piece of run.pieces()) {
    bytes += piece.length;
    if (bytes > MOST_BYTES) break;
    pieces.push(piece);
  }
  if (bytes > MOST_BYTES) run.stop();
  // Damage in its sound says nothing of its tags.
  else await run.complaint();
  await writeFile(path, bytes > MOST_BYTES ? ';FFMETADATA1\n' : Buffer.concat(pieces));
}
