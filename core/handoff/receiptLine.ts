import { receiptInSeconds } from '../repair/plan/receiptInSeconds.ts';
import type { Receipt } from '../schema/receipt.ts';
import type { ConformLine } from '../schema/handoff.ts';

/**
 * A handed-off recording as its receipt's file and `--json` have it: like `repair`, with old against new.
 * @param file as it is called. @param files what came of it: where each lies, and its conform lines; one for several outputs where they are in one file
 */
export function receiptLine(
  file: string,
  receipt: Receipt,
  files: readonly { path: string; conform: ConformLine[] }[],
): object {
  const written = receipt.files.map((one, i) => ({
    file: (files[i] ?? files[0]).path,
    ...one,
    conform: (files[i] ?? files[0]).conform,
  }));
  return {
    file,
    error: null,
    receipt: { ...receiptInSeconds(receipt), files: written, notes: [] },
    conform: files[0].conform,
  };
}
