import { Repair } from '../../schema/repair.ts';

type Saved = Record<string, unknown>;

/** How a repair of each earlier version becomes one of the next: `[0]` takes version 1 to 2. A saved repair is read for ever. */
const STEPS: ((saved: Saved) => Saved)[] = [];

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
  for (const step of STEPS.slice(version - 1)) saved = step(saved);
  return Repair.parse(saved);
}
