import type { Receipt } from '../../schema/receipt.ts';
import { sectionsToFile, turnsToFile } from './inSeconds.ts';

/** A receipt as files and --json hold it: the plan's sections and turns stand in the form that --sections and --turns read. */
export function receiptInSeconds(receipt: Receipt) {
  const { repair, before } = receipt;
  const { sampleRate } = before.format;
  return {
    ...receipt,
    repair: {
      ...repair,
      sections: repair.sections && sectionsToFile(repair.sections, sampleRate),
      turns: repair.turns && turnsToFile(repair, sampleRate),
    },
  };
}
