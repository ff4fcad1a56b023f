import { SCRATCH_PREFIX } from '@pocket-twin/media/disk/scratch.ts';

/** What the folder is called, within the handoff's, in which a file becomes whole: whoever goes on after a crash finds it by this. */
export function scratchOf(fileId: string): string {
  return `.${SCRATCH_PREFIX}${fileId}`;
}
