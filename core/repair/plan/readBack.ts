import type { Receipt } from '../../schema/receipt.ts';

/** The first file that read back differently from what was written; undefined where all are what they should be. */
export function damagedFile({ files }: Receipt): Receipt['files'][number] | undefined {
  return files.find(({ proof }) => proof.differingFrames > 0);
}
