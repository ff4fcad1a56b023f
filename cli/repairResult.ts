import { join } from 'node:path';
import { repairName } from '@pocket-twin/core/repair/plan/describe.ts';
import { damagedFile } from '@pocket-twin/core/repair/plan/readBack.ts';
import { receiptInSeconds } from '@pocket-twin/core/repair/plan/receiptInSeconds.ts';
import { exactWords } from '@pocket-twin/core/repair/plan/exactWords.ts';
import type { Receipt } from '@pocket-twin/core/schema/receipt.ts';
import type { Outcome } from './manyFiles.ts';

/** What became of one file: written into a folder, or left alone. */
export type Repaired =
  { receipt: Receipt; folder: string; notes: string[] } | { leftAlone: string; mustDecide: boolean };

/** Whether something read back differently from what was written. */
export function isDamaged(result: Repaired): boolean {
  return 'receipt' in result && damagedFile(result.receipt) !== undefined;
}

/** One line of --json. The plan's sections and turns stand in the form that --sections and --turns read. */
export function jsonOf(outcome: Outcome<Repaired>): object {
  const { file } = outcome;
  if ('error' in outcome) return { file, error: outcome.error, receipt: null };
  const { result } = outcome;
  if (!('receipt' in result)) return { file, error: null, receipt: null, leftAlone: result.leftAlone };
  const { receipt, folder, notes } = result;
  return {
    file,
    error: null,
    receipt: {
      ...receiptInSeconds(receipt),
      files: receipt.files.map((written) => ({ file: join(folder, written.name), ...written })),
      notes,
    },
  };
}

export function textOf(outcome: Outcome<Repaired>): string {
  const { file } = outcome;
  if ('error' in outcome) return `${file}\n  ${outcome.error}\n\n`;
  const { result } = outcome;
  if (!('receipt' in result)) return `${file}\n  Left alone. ${result.leftAlone}\n\n`;
  const { receipt, notes } = result;
  const { sampleRate } = receipt.before.format;
  const lines = receipt.files.map(({ name, heldSamples, proof: { differingFrames }, ...written }) => {
    const proof =
      differingFrames > 0 ? `DIFFERS in ${differingFrames} frames: do not use it` : exactWords(written, sampleRate);
    return `  ${name}: ${proof}${heldSamples > 0 ? `; ${heldSamples} beyond full scale are held there` : ''}.\n`;
  });
  const told = notes.map((note) => `  ${note}\n`);
  return `${file}\n  ${repairName(receipt.repair)}.\n${told.join('')}${lines.join('')}\n`;
}
