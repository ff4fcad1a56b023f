import { basename } from 'node:path';
import type { Readable } from 'node:stream';
import { createXXHash128 } from 'hash-wasm';
import { FFMPEG, reading, type CodedInput } from '../ffmpeg/coded.ts';
import { Run } from '../ffmpeg/run.ts';

/** Words for an output of FFmpeg that gives the packets of the picture as they are stored, one after another. */
export const PICTURE_PACKETS = ['-map', '0:V:0', '-c', 'copy', '-f', 'data', 'pipe:1'];

/** An XXH128 over all packets of a file's picture. */
export async function pictureHash(input: CodedInput): Promise<string> {
  const run = new Run(FFMPEG, [...reading(input), ...PICTURE_PACKETS], basename(input.path));
  const hash = await hashOf(run.pieces());
  await run.complaint();
  return hash;
}

/** The same of packets as they come. */
export async function hashOf(packets: AsyncIterable<Buffer> | Readable): Promise<string> {
  const hash = (await createXXHash128()).init();
  for await (const piece of packets as AsyncIterable<Buffer>) hash.update(piece);
  return hash.digest('hex');
}
