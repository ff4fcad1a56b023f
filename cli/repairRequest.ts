import { filledUp, inLayout, LAYOUTS, type Layout } from '@pocket-twin/core/repair/plan/layouts.ts';
import { problemWith } from '@pocket-twin/core/repair/plan/problemWith.ts';
import { addTrims, NO_TRIM } from '@pocket-twin/core/repair/plan/trims.ts';
import { changesNothing, doesSomething } from '@pocket-twin/core/repair/plan/compare.ts';
import type { Finds, Found } from '@pocket-twin/core/schema/proposal.ts';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { Repair, type InputTrim, type LevelTarget } from '@pocket-twin/core/schema/repair.ts';
import { basePlan, MAIN, MAIN_OPTIONS, within, type MainValues } from './mainPlan.ts';
import { withOptionalValue, readChannel, readNumber, readPair, readWords } from './words.ts';

const OPTIONS = {
  ...MAIN_OPTIONS,
  invert: { type: 'string', multiple: true },
  delay: { type: 'string', multiple: true },
  gain: { type: 'string', multiple: true },
  balance: { type: 'boolean' },
  'line-up': { type: 'string' },
  loudness: { type: 'string' },
  peak: { type: 'string' },
  ceiling: { type: 'string' },
  'same-gain': { type: 'boolean' },
  out: { type: 'string' },
  format: { type: 'string' },
  bits: { type: 'string' },
  layout: { type: 'string' },
  overwrite: { type: 'boolean' },
  json: { type: 'boolean' },
  help: { type: 'boolean' },
} as const;

/** What can be asked for beside a main plan, or alone. */
const BESIDES = [
  ...['invert', 'delay', 'gain', 'balance', 'line-up', 'loudness', 'peak', 'ceiling'],
  // A conversion.
  ...['layout', 'bits', 'format'],
] as const satisfies (keyof typeof OPTIONS)[];
const FORMATS = ['same', 'wav', 'flac', 'aiff'] as const;
const BITS = ['16', '24', '32f'] as const;

/** What is done to one file; or why it is left alone, and whether a person must decide. */
export type Decided = { repair: Repair; notes: string[] } | { leftAlone: string; mustDecide: boolean };

/** Looks for what lies elsewhere in each clip. */
type Finder = (base: Repair, finds: Finds) => Promise<Found>;

export interface RepairRequest {
  files: string[];
  help: boolean;
  out: string;
  format: (typeof FORMATS)[number];
  bits: (typeof BITS)[number] | null;
  overwrite: boolean;
  json: boolean;
  /** The level that all files are brought to together; null where each is for itself. */
  sameGain: LevelTarget | null;
  /** Decides about a file once it is known what is on it. */
  decide: (inspection: Inspection, find: Finder) => Promise<Decided>;
}

/** @throws Refusal when the words do not make one clear order */
export async function readRepairRequest(args: string[]): Promise<RepairRequest> {
  const { values, positionals: files } = readWords(withOptionalValue(args, '--line-up', /^\d+,\d+$/, '1,2'), OPTIONS);
  const base = { files, help: values.help ?? false, overwrite: values.overwrite ?? false, json: values.json ?? false };
  if (base.help)
    return {
      ...base,
      ...{ out: '', format: 'same', bits: null, sameGain: null },
      decide: () => Promise.resolve({ leftAlone: '', mustDecide: false }),
    };
  const chosen = MAIN.filter((name) => values[name] !== undefined);
  const mains = MAIN.map((name) => `--${name}`).join(', ');
  if (chosen.length > 1) throw new Refusal('bad-request', `Say only one of ${mains}. See --help.`);
  if (chosen.length === 0 && !BESIDES.some((name) => values[name] !== undefined))
    throw new Refusal('bad-request', `Say what to do: one of ${mains}, or a trim or a level. See --help.`);
  if (files.length === 0) throw new Refusal('bad-request', 'Name the files to repair. See --help.');
  if (!values.out) throw new Refusal('bad-request', 'Say where the repaired files go: --out DIR.');
  const level = readLevel(values);
  if (values['same-gain'] && !level)
    throw new Refusal(
      'bad-request',
      '--same-gain needs a level to bring the files to: --loudness, --peak or --ceiling.',
    );
  const layout = values.layout === undefined ? null : oneOf(values.layout, LAYOUTS, '--layout');
  const plan = await basePlan(values satisfies MainValues);
  const trims = readTrims(values);
  const finds = { lineUp: readLineUp(values['line-up']), balance: values.balance ?? false };
  const order: Order = {
    plan,
    trims,
    finds,
    level: values['same-gain'] ? null : level,
    layout,
    isRouted: values.route !== undefined,
  };
  return {
    ...base,
    out: values.out,
    format: oneOf(values.format ?? 'same', FORMATS, '--format'),
    bits: values.bits === undefined ? null : oneOf(values.bits, BITS, '--bits'),
    sameGain: values['same-gain'] ? level : null,
    decide: (inspection, find) => decide(order, inspection, find),
  };
}

type Values = Awaited<ReturnType<typeof readWords<typeof OPTIONS>>>['values'];

interface Order {
  plan: Awaited<ReturnType<typeof basePlan>>;
  trims: InputTrim[];
  finds: Pick<Finds, 'lineUp' | 'balance'>;
  level: LevelTarget | null;
  layout: Layout | null;
  /** A person says what goes to which output: those that are not named are silent. */
  isRouted: boolean;
}

async function decide(
  { plan, trims, finds, level, layout, isRouted }: Order,
  inspection: Inspection,
  find: Finder,
): Promise<Decided> {
  const base = plan(inspection);
  if ('leftAlone' in base) return base;
  const { channels } = inspection.format;
  for (const { channel } of trims) within(channel, channels);
  const trimmed = { ...base.repair, trims: addTrims(base.repair.trims, trims), level: level ?? base.repair.level };
  const wanted: Finds = {
    sections: base.finds.sections,
    turns: base.finds.turns,
    lineUp: finds.lineUp ?? base.finds.lineUp,
    balance: finds.balance || base.finds.balance,
  };
  const looks = wanted.sections || wanted.turns !== null || wanted.lineUp !== null || wanted.balance;
  const found: Found = looks ? await find(trimmed, wanted) : { repair: trimmed, notes: [] };
  if ('whyNot' in found) return { leftAlone: found.whyNot, mustDecide: true };
  if (base.isRecipe && looks && changesNothing(found.repair))
    return { leftAlone: 'Nothing was found on it to mend.', mustDecide: false };
  const laidOut = layout ? inLayout(isRouted ? filledUp(found.repair, layout) : found.repair, layout) : found.repair;
  // Trims alone keep the channels where they are.
  const action = laidOut.action === 'leave' && laidOut.trims.some(doesSomething) ? 'trim' : laidOut.action;
  const repair = checked({ ...laidOut, action });
  const problem = problemWith(repair, inspection.format);
  if (problem) throw new Refusal('bad-request', problem);
  return { repair, notes: found.notes };
}

function readTrims(values: Values): InputTrim[] {
  return [
    ...(values.invert ?? []).map((text): InputTrim => ({
      ...NO_TRIM,
      channel: readChannel(text, '--invert'),
      polarity: 'inverted',
    })),
    ...(values.delay ?? [])
      .map((text) => readPair(text, '--delay'))
      .map(({ channel, value }): InputTrim => ({ ...NO_TRIM, channel, delaySamples: value })),
    ...(values.gain ?? [])
      .map((text) => readPair(text, '--gain'))
      .map(({ channel, value }): InputTrim => ({ ...NO_TRIM, channel, gainDb: value })),
  ];
}

function readLineUp(text: string | undefined): [number, number] | null {
  if (text === undefined) return null;
  const [first, second, surplus] = text.split(',').map((part) => readChannel(part, '--line-up'));
  if (second === undefined || surplus !== undefined || first === second)
    throw new Refusal('bad-request', `--line-up takes two channels, as in 1,2, not “${text}”.`);
  return [first, second];
}

function readLevel(values: Values): LevelTarget | null {
  const read = (text: string | undefined, option: string): number | null =>
    text === undefined ? null : readNumber(text, option);
  const level = {
    commonGainDb: null,
    loudnessLufs: read(values.loudness, '--loudness'),
    peakDbtp: read(values.peak, '--peak'),
    ceilingDbtp: read(values.ceiling, '--ceiling'),
  };
  if (level.loudnessLufs !== null && level.peakDbtp !== null)
    throw new Refusal('bad-request', 'Say --loudness or --peak, not both.');
  return Object.values(level).every((value) => value === null) ? null : level;
}

function checked(repair: Repair): Repair {
  const result = Repair.safeParse(repair);
  if (result.success) return result.data;
  throw new Refusal('bad-request', `That repair does not fit: ${result.error.issues[0].message}`);
}

function oneOf<Word extends string>(text: string, words: readonly Word[], option: string): Word {
  const found = words.find((word) => word === text);
  if (found) return found;
  throw new Refusal('bad-request', `${option} takes one of ${words.join(', ')}, not “${text}”.`);
}
