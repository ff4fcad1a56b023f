import { Receipt } from '../../schema/receipt.ts';
import { Repair } from '../../schema/repair.ts';
import { CURRENT_VERSION, versionOf } from '../../schema/repairVersions.ts';

/**
 * A repair as it was saved, in a database, a receipt or a file, by this version of the product or an earlier one.
 * @throws ZodError where it is none; Error where a later version saved it
 */
export function savedRepair(value: unknown): Repair {
  const version = versionOf(value);
  if (version > CURRENT_VERSION)
    throw new Error(`This repair was kept by a later version of Pocket Twin (${version}, here ${CURRENT_VERSION}).`);
  return Repair.parse(value);
}

/** A receipt as it was saved: its repair may be of an earlier version. @throws as `savedRepair` */
export function savedReceipt(value: unknown): Receipt {
  const saved = value as { files: { exact: boolean }[] };
  const files = saved.files.map((file) => ({ ...(file.exact ? { exactOutside: [] } : {}), ...file }));
  return Receipt.parse({ ...saved, files });
}
