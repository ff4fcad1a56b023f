import { ascii, type ByteSource } from '../riff/byteSource.ts';
import { BOX_HEAD_BYTES } from './boxes.ts';

/** The box of a QuickTime or MP4 file that tells of its media (ISO/IEC 14496-12, 8.2.1). */
export interface MovieBox {
  /** What it holds. */
  body: Uint8Array;
  /** Where it begins in the file. */
  at: number;
  isLast: boolean;
  /** Whether something can be put after the last box: not where that goes on to the end of the file, whatever that is. */
  hasRoomAfter: boolean;
}

const LONG_HEAD_BYTES = 16;
const LENGTH_FOLLOWS = 1;
const TO_THE_END = 0;
const MOST_MOVIE_BYTES = 256 * 1024 ** 2;
const MOST_BOXES = 10_000;

/** @returns null where there is none, or one that makes no sense */
export async function findMovieBox(source: ByteSource): Promise<MovieBox | null> {
  let found: Omit<MovieBox, 'isLast' | 'hasRoomAfter'> | null = null;
  let isLast = false;
  let at = 0;
  for (let n = 0; n < MOST_BOXES && at + BOX_HEAD_BYTES <= source.size; n++) {
    const head = await source.read(at, LONG_HEAD_BYTES);
    const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
    const short = view.getUint32(0);
    if (short === LENGTH_FOLLOWS && head.length < LONG_HEAD_BYTES) break;
    const bytes =
      short === TO_THE_END
        ? source.size - at
        : short === LENGTH_FOLLOWS
          ? view.getUint32(8) * 2 ** 32 + view.getUint32(12)
          : short;
    const headBytes = short === LENGTH_FOLLOWS ? LONG_HEAD_BYTES : BOX_HEAD_BYTES;
    if (bytes < headBytes) break;
    const isMovie = found === null && ascii(head, 4, 4) === 'moov';
    if (isMovie) {
      if (bytes > MOST_MOVIE_BYTES || at + bytes > source.size) return null;
      found = { body: await source.read(at + headBytes, bytes - headBytes), at };
    }
    isLast = isMovie;
    at += bytes;
    if (short === TO_THE_END) return found && { ...found, isLast, hasRoomAfter: isLast };
  }
  return found && { ...found, isLast: isLast && at === source.size, hasRoomAfter: at === source.size };
}
