import * as z from 'zod';

/** How a repair of each earlier version becomes one of the next: `[0]` takes version 1 to 2. A saved repair is read for ever. */
const STEPS: ((saved: unknown) => unknown)[] = [withRoutesInTime];

export const CURRENT_VERSION = STEPS.length + 1;

/** The version a value says it has; NaN where it says none. */
export function versionOf(value: unknown): number {
  return typeof value === 'object' && value !== null && 'version' in value ? Number(value.version) : NaN;
}

/** A repair of an earlier version as one of this; anything else as it is. */
export function asThisVersion(value: unknown): unknown {
  const version = versionOf(value);
  if (!Number.isInteger(version) || version < 1) return value;
  return STEPS.slice(version - 1).reduce((saved, step) => step(saved), value);
}

const Version1 = z.looseObject({
  level: z.looseObject({}).nullable(),
  outputs: z.array(z.looseObject({ routes: z.array(z.array(z.looseObject({}))) })),
});

/** 1 to 2: cables with a polarity, files with a layout, sections and turns, a gain for several clips. */
function withRoutesInTime(saved: unknown): unknown {
  const found = Version1.safeParse(saved);
  // What is no repair is left for the schema to complain of.
  if (!found.success) return saved;
  const { outputs, level, ...others } = found.data;
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
