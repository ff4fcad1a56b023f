import { basename } from 'node:path';
import { FFMPEG, reading, type CodedInput } from './coded.ts';
import { Run } from './run.ts';

const STILL_WIDTH = 320;

/** One frame of a file's picture as a JPEG; null where it has none that can be shown. */
export async function readStill(input: CodedInput, atSeconds: number): Promise<Buffer | null> {
  const run = new Run(
    FFMPEG,
    [
      ...reading(input, atSeconds),
      '-map',
      '0:v:0',
      '-frames:v',
      '1',
      '-vf',
      `scale='min(${STILL_WIDTH},iw)':-2`,
      '-c:v',
      'mjpeg',
      '-f',
      'image2pipe',
      'pipe:1',
    ],
    basename(input.path),
  );
  const pieces: Buffer[] = [];
  for await (const piece of run.pieces()) pieces.push(piece);
  await run.complaint();
  return pieces.length > 0 ? Buffer.concat(pieces) : null;
}
