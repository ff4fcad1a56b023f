import { SectionsFile, TurnsFile } from '../../schema/repairFile.ts';
import type { Receipt } from '../../schema/receipt.ts';
import { sectionsFromFile, sectionsToFile, turnsFromFile, turnsToFile } from './inSeconds.ts';
import { savedReceipt } from './upgrade.ts';

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

/** The same, read back. @throws ZodError or Refusal where it is not a receipt */
export function receiptFromSeconds(value: unknown): Receipt {
  const saved = value as { repair: { sections: unknown; turns: unknown }; before: Receipt['before'] };
  const { sections, turns } = saved.repair;
  const { format } = saved.before;
  return savedReceipt({
    ...saved,
    repair: {
      ...saved.repair,
      sections: sections ? sectionsFromFile(SectionsFile.parse(sections), format) : null,
      turns: turns ? turnsFromFile(TurnsFile.parse(turns), format) : null,
    },
  });
}
