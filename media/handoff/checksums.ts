import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { createXXHash128 } from 'hash-wasm';
import type { ManifestEntry } from '@pocket-twin/core/handoff/manifest.ts';

/** A file's checksums, in one reading: SHA-256 for `sha256sum -c`, XXH128 for hash lists of the set, which is many times quicker. */
export async function checksumsOf(path: string): Promise<Omit<ManifestEntry, 'path'>> {
  const sha256 = createHash('sha256');
  const xxh128 = (await createXXHash128()).init();
  for await (const piece of createReadStream(path, { highWaterMark: 1 << 18 }) as AsyncIterable<Buffer>) {
    sha256.update(piece);
    xxh128.update(piece);
  }
  const { size, mtime } = await stat(path);
  return { bytes: size, modifiedAt: mtime.toISOString(), sha256: sha256.digest('hex'), xxh128: xxh128.digest('hex') };
}
