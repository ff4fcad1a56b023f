import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import type { ManifestEntry } from '@pocket-twin/core/handoff/manifest.ts';

/** A file's checksums, in one reading. */
export async function checksumsOf(path: string): Promise<Omit<ManifestEntry, 'path'>> {
  const [sha256, sha1] = [createHash('sha256'), createHash('sha1')];
  for await (const piece of createReadStream(path, { highWaterMark: 1 << 20 }) as AsyncIterable<Buffer>) {
    sha256.update(piece);
    sha1.update(piece);
  }
  const { size, mtime } = await stat(path);
  return { bytes: size, modifiedAt: mtime.toISOString(), sha256: sha256.digest('hex'), sha1: sha1.digest('hex') };
}
