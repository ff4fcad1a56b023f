import { createHash } from 'node:crypto';
import { open } from 'node:fs/promises';

const PIECE_BYTES = 1 << 18;

/** What a file holds, whatever it is called: BLAKE2b (RFC 7693) of its bytes, as hex. */
export async function contentHash(path: string, onProgress?: (bytes: number) => void): Promise<string> {
  const hash = createHash('blake2b512');
  // One room for all of it: a stream leaves the whole file behind as garbage.
  const room = new Uint8Array(PIECE_BYTES);
  const file = await open(path, 'r');
  try {
    for (let bytes = 0; ;) {
      const { bytesRead } = await file.read(room, 0, PIECE_BYTES, bytes);
      if (bytesRead === 0) return hash.digest('hex').slice(0, 64);
      hash.update(room.subarray(0, bytesRead));
      bytes += bytesRead;
      onProgress?.(bytes);
    }
  } finally {
    await file.close();
  }
}
