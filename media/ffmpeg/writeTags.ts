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
  const answer = await run.text(MOST_BYTES);
  await writeFile(path, answer ?? ';FFMETADATA1\n');
}
