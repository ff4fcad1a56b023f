import { readFile } from 'node:fs/promises';
import {
  fillFrom,
  leaveAsItIs,
  selectChannel,
  splitToMonos,
  sumToMono,
  swapSides,
} from '@pocket-twin/core/repair/plan/plans.ts';
import { doesSomething } from '@pocket-twin/core/repair/plan/compare.ts';
import { repairFromSuggestion } from '@pocket-twin/core/repair/plan/fromSuggestion.ts';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { Repair, type InputTrim } from '@pocket-twin/core/schema/repair.ts';
import { readChannel, readNumber, readPair, readWords } from './words.ts';

const OPTIONS = {
  select: { type: 'string' },
  fill: { type: 'string' },
  swap: { type: 'boolean' },
  sum: { type: 'boolean' },
  split: { type: 'boolean' },
  auto: { type: 'boolean' },
  recipe: { type: 'string' },
  invert: { type: 'string', multiple: true },
  delay: { type: 'string', multiple: true },
  gain: { type: 'string', multiple: true },
  balance: { type: 'boolean' },
  loudness: { type: 'string' },
  peak: { type: 'string' },
  ceiling: { type: 'string' },
  out: { type: 'string' },
  format: { type: 'string' },
  bits: { type: 'string' },
  overwrite: { type: 'boolean' },
  json: { type: 'boolean' },
  help: { type: 'boolean' },
} as const;

const MAIN = ['select', 'fill', 'swap', 'sum', 'split', 'auto', 'recipe'] as const;
/** What can be asked for beside these, or alone. */
const BESIDES = ['invert', 'delay', 'gain', 'balance', 'loudness', 'peak', 'ceiling'] as const;
const FORMATS = ['same', 'wav', 'flac'] as const;
const BITS = ['16', '24', '32f'] as const;

export interface RepairWords {
  files: string[];
  help: boolean;
  out: string;
  format: (typeof FORMATS)[number];
  bits: (typeof BITS)[number] | null;
  overwrite: boolean;
  json: boolean;
  /** The repair for a file once it is known what is on it; null where it is left alone. */
  repairFor: (inspection: Inspection) => Repair | null;
}

/** @throws Refusal when the words do not make one clear order */
export async function readRepairWords(args: string[]): Promise<RepairWords> {
  const { values, positionals: files } = readWords(args, OPTIONS);
  const base = { files, help: values.help ?? false, overwrite: values.overwrite ?? false, json: values.json ?? false };
  if (base.help) return { ...base, out: '', format: 'same', bits: null, repairFor: () => null };
  const chosen = MAIN.filter((name) => values[name] !== undefined);
  if (chosen.length > 1)
    throw new Refusal('bad-request', `Say only one of ${MAIN.map((name) => `--${name}`).join(', ')}. See --help.`);
  if (chosen.length === 0 && !BESIDES.some((name) => values[name] !== undefined)) {
    throw new Refusal(
      'bad-request',
      `Say what to do: one of ${MAIN.map((name) => `--${name}`).join(', ')}, or a trim or a level. See --help.`,
    );
  }
  if (files.length === 0) throw new Refusal('bad-request', 'Name the files to repair. See --help.');
  if (!values.out) throw new Refusal('bad-request', 'Say where the repaired files go: --out DIR.');
  const recipe = values.recipe === undefined ? null : await readRecipe(values.recipe);
  const trims = readTrims(values);
  const level = readLevel(values);
  const plan = (inspection: Inspection): Repair | null => {
    const channels = inspection.format.channels;
    if (recipe) return recipe;
    if (values.auto) return repairFromSuggestion(inspection);
    if (values.select !== undefined)
      return selectChannel(within(readChannel(values.select, '--select'), channels), channels);
    if (values.fill !== undefined) return fillFrom(within(readChannel(values.fill, '--fill'), channels), channels);
    if (values.swap) return swapSides(atLeastTwo(channels, '--swap'));
    if (values.sum) return sumToMono(atLeastTwo(channels, '--sum'));
    if (values.split) return splitToMonos(atLeastTwo(channels, '--split'));
    return leaveAsItIs(channels);
  };
  if (values.select !== undefined) readChannel(values.select, '--select');
  if (values.fill !== undefined) readChannel(values.fill, '--fill');
  return {
    ...base,
    out: values.out,
    format: oneOf(values.format ?? 'same', FORMATS, '--format'),
    bits: values.bits === undefined ? null : oneOf(values.bits, BITS, '--bits'),
    repairFor: (inspection) => {
      const repair = plan(inspection);
      if (!repair) return null;
      const balance = values.balance ? balanceTrims(inspection) : [];
      const merged = mergeTrims([...repair.trims, ...trims, ...balance]);
      for (const { channel } of merged) within(channel, inspection.format.channels);
      // Trims alone keep the channels where they are.
      return checked({
        ...repair,
        action: repair.action === 'leave' && merged.some(doesSomething) ? 'trim' : repair.action,
        trims: merged,
        level: level ?? repair.level,
      });
    },
  };
}

type Values = Awaited<ReturnType<typeof readWords<typeof OPTIONS>>>['values'];

function readTrims(values: Values): InputTrim[] {
  const trim = (channel: number, part: Partial<InputTrim>): InputTrim => ({
    channel,
    gainDb: 0,
    polarity: 'normal',
    delaySamples: 0,
    ...part,
  });
  return [
    ...(values.invert ?? []).map((text) => trim(readChannel(text, '--invert'), { polarity: 'inverted' })),
    ...(values.delay ?? [])
      .map((text) => readPair(text, '--delay'))
      .map(({ channel, value }) => trim(channel, { delaySamples: value })),
    ...(values.gain ?? [])
      .map((text) => readPair(text, '--gain'))
      .map(({ channel, value }) => trim(channel, { gainDb: value })),
  ];
}

function readLevel(values: Values): Repair['level'] {
  const read = (text: string | undefined, option: string): number | null =>
    text === undefined ? null : readNumber(text, option);
  const level = {
    loudnessLufs: read(values.loudness, '--loudness'),
    peakDbtp: read(values.peak, '--peak'),
    ceilingDbtp: read(values.ceiling, '--ceiling'),
  };
  if (level.loudnessLufs !== null && level.peakDbtp !== null)
    throw new Refusal('bad-request', 'Say --loudness or --peak, not both.');
  return Object.values(level).every((value) => value === null) ? null : level;
}

/** Lowers the louder side: raising the other could clip it. */
function balanceTrims(inspection: Inspection): InputTrim[] {
  const balanceLu = inspection.pairs[0]?.balanceLu;
  if (!balanceLu) return [];
  return [{ channel: balanceLu > 0 ? 1 : 2, gainDb: -Math.abs(balanceLu), polarity: 'normal', delaySamples: 0 }];
}

/** Gains and delays of one channel add up; two turns upside down cancel. */
function mergeTrims(trims: InputTrim[]): InputTrim[] {
  const byChannel = new Map<number, InputTrim>();
  for (const trim of trims) {
    const sum = byChannel.get(trim.channel);
    byChannel.set(
      trim.channel,
      !sum
        ? trim
        : {
            channel: trim.channel,
            gainDb: sum.gainDb + trim.gainDb,
            delaySamples: sum.delaySamples + trim.delaySamples,
            polarity: sum.polarity === trim.polarity ? 'normal' : 'inverted',
          },
    );
  }
  return [...byChannel.values()];
}

async function readRecipe(path: string): Promise<Repair> {
  const text = await readFile(path, 'utf8').catch(() => {
    throw new Refusal('not-found', `The recipe ${path} can’t be read. Check the name and the folder.`);
  });
  try {
    return Repair.parse(JSON.parse(text));
  } catch {
    throw new Refusal('bad-request', `${path} is not a recipe. Save one from a clip’s repair.`);
  }
}

function checked(repair: Repair): Repair {
  const result = Repair.safeParse(repair);
  if (result.success) return result.data;
  throw new Refusal('bad-request', `That repair does not fit: ${result.error.issues[0].message}`);
}

function within(channel: number, channels: number): number {
  if (channel <= channels) return channel;
  throw new Refusal('bad-request', `There is no channel ${channel}: the file has ${channels}.`);
}

function atLeastTwo(channels: number, option: string): number {
  if (channels >= 2) return channels;
  throw new Refusal('bad-request', `${option} needs two channels: the file is mono.`);
}

function oneOf<Word extends string>(text: string, words: readonly Word[], option: string): Word {
  const found = words.find((word) => word === text);
  if (found) return found;
  throw new Refusal('bad-request', `${option} takes one of ${words.join(', ')}, not “${text}”.`);
}
