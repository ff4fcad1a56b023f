import { mkdtemp } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';

/** Temporary folders of ours are known by this, should whoever made one have had no time to remove it. */
export const SCRATCH_PREFIX = 'pocket-twin-scratch-';

/** A folder for what is needed for a while. @param beside on the disk of this file, which has the room that was reckoned with */
export function makeScratch(beside?: string): Promise<string> {
  return mkdtemp(beside === undefined ? join(tmpdir(), SCRATCH_PREFIX) : join(dirname(beside), `.${SCRATCH_PREFIX}`));
}
