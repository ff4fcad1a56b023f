import { open } from 'node:fs/promises';
import { BOX_HEAD_BYTES, madeBox } from '@pocket-twin/core/isobmff/boxes.ts';
import { findMovieBox, type MovieBox } from '@pocket-twin/core/isobmff/movieBox.ts';
import { withMovieTag } from '@pocket-twin/core/isobmff/movieTag.ts';
import { asciiBytes } from '@pocket-twin/core/riff/byteSource.ts';
import { FileSource } from '../read/fileSource.ts';

/** Gives a movie file of our own tags that FFmpeg cannot write beside a cover. */
export async function tagMovieFile(path: string, tags: Record<string, string>): Promise<void> {
  const source = await FileSource.open(path);
  const movie = await findMovieBox(source).finally(() => source.close());
  const changes = movie ? taggedMovie(movie, tags, source.size) : [];
  const file = await open(path, 'r+');
  try {
    for (const { offset, bytes } of changes) await file.write(bytes, 0, bytes.length, offset);
  } finally {
    await file.close();
  }
}

/** Bytes beside the sound that are other ones, or come after all that was there. */
export interface Change {
  offset: number;
  bytes: Uint8Array;
}

/** What gives a file's movie box tags without moving any media: it grows at the end of the file, or moves there and leaves its place free. */
export function taggedMovie(
  { body, at, isLast, hasRoomAfter }: MovieBox,
  tags: Record<string, string>,
  size: number,
): Change[] {
  if (!hasRoomAfter) return [];
  let tagged: Uint8Array | null = body;
  for (const [name, text] of Object.entries(tags)) tagged = tagged && withMovieTag(tagged, name, text);
  if (tagged === null || tagged === body) return [];
  const bytes = madeBox('moov', [tagged]);
  if (!isLast)
    return [
      { offset: at + 4, bytes: asciiBytes('free') },
      { offset: size, bytes },
    ];
  // What is shorter than before, with a long text of the same name gone, leaves its rest free.
  const left = size - at - bytes.length;
  if (left <= 0) return [{ offset: at, bytes }];
  return left < BOX_HEAD_BYTES
    ? []
    : [
        { offset: at, bytes },
        { offset: at + bytes.length, bytes: madeBox('free', [new Uint8Array(left - BOX_HEAD_BYTES)]) },
      ];
}
