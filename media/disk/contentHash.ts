import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';

const PIECE_BYTES = 1 << 20;

/** What a file holds, whatever it is called: BLAKE2b (RFC 7693) of its bytes, as hex. */
export async function contentHash(path: string, onProgress?: (bytes: number) => void): Promise<string> {
  const hash = createHash('blake2b512');
  let bytes = 0;
  for await (const piece of createReadStream(path, { highWaterMark: PIECE_BYTES }) as AsyncIterable<Buffer>) {
    hash.update(piece);
    onProgress?.((bytes += piece.length));
  }
  return hash.digest('hex').slice(0, 64);
}
