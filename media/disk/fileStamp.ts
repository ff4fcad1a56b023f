import { stat, type FileHandle } from 'node:fs/promises';
import { basename } from 'node:path';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { FileStamp } from '@pocket-twin/core/contract/jobs.ts';

/** Of a path, or of a file that is open. @throws Refusal where there is nothing at the path */
export async function stampOf(file: string | FileHandle): Promise<FileStamp> {
  const found = await (typeof file === 'string' ? stat(file, { bigint: true }) : file.stat({ bigint: true })).catch(
    () => {
      throw new Refusal('not-found', `${typeof file === 'string' ? basename(file) : 'The file'} is no longer there.`);
    },
  );
  return {
    bytes: Number(found.size),
    modifiedMs: Math.round(Number(found.mtimeNs) / 1e6),
    identity: `${found.dev} ${found.ino}`,
  };
}

/** Whether two stamps are of the same recording. What one of them does not know is not held against the other. */
export function isSameFile(a: FileStamp, b: FileStamp): boolean {
  return (
    a.bytes === b.bytes &&
    a.modifiedMs === b.modifiedMs &&
    (a.identity === null || b.identity === null || a.identity === b.identity)
  );
}

/**
 * Holds an open file to what it was when it was measured, and the path to the file that is open.
 * @throws Refusal where either is another
 */
export async function ensureSameFile(handle: FileHandle, path: string, measured: FileStamp): Promise<void> {
  const [open, there] = [await stampOf(handle), await stampOf(path)];
  if (!isSameFile(open, measured) || !isSameFile(open, there))
    throw new Refusal(
      'conflict',
      `${basename(path)} has changed since it was measured. Measure it again in the lineup.`,
    );
}
