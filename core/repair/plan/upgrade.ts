import * as z from 'zod';
import { Receipt } from '../../schema/receipt.ts';
import { Repair } from '../../schema/repair.ts';

type Saved = Record<string, unknown>;

/** How a repair of each earlier version becomes one of the next: `[0]` takes version 1 to 2. A saved repair is read for ever. */
const STEPS: ((saved: Saved) => Saved)[] = [withRoutesInTime];

const CURRENT = STEPS.length + 1;

/**
 * A repair as it was saved, in a database, a receipt or a file, by this version of the product or an earlier one.
 * @throws ZodError where it is none; Error where a later version saved it
 */
export function savedRepair(value: unknown): Repair {
  let saved = value as Saved;
  const version = Number(saved?.version);
  if (version > CURRENT)
    throw new Error(`This repair was kept by a later version of Pocket Twin (${version}, here ${CURRENT}).`);
  if (Number.isInteger(version) && version >= 1) for (const step of STEPS.slice(version - 1)) saved = step(saved);
  return Repair.parse(saved);
}

/** A receipt as it was saved: its repair may be of an earlier version. @throws as `savedRepair` */
export function savedReceipt(value: unknown): Receipt {
  const saved = value as Saved;
  const files = (saved.files as Saved[]).map((file) => ({
    ...(file.exact === true ? { exactOutside: [] } : {}),
    ...file,
  }));
  return Receipt.parse({ ...saved, files, repair: savedRepair(saved.repair) });
}

const Version1 = z.looseObject({
  level: z.looseObject({}).nullable(),
  outputs: z.array(z.looseObject({ routes: z.array(z.array(z.looseObject({}))) })),
});

/** 1 to 2: cables with a polarity, files with a layout, sections and turns, a gain for several clips. */
function withRoutesInTime(saved: Saved): Saved {
  const { outputs, level, ...others } = Version1.parse(saved);
  return {
    ...others,
    version: 2,
    outputs: outputs.map((output) => ({
      ...output,
      layout: 'discrete',
      routes: output.routes.map((route) => route.map((cable) => ({ ...cable, polarity: 'normal' }))),
    })),
    sections: null,
    turns: null,
    level: level && { ...level, commonGainDb: null },
  };
}
