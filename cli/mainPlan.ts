import { readFile } from 'node:fs/promises';
import * as plans from '@pocket-twin/core/repair/plan/plans.ts';
import { repairFromSuggestion } from '@pocket-twin/core/repair/plan/fromSuggestion.ts';
import { sectionsFromFile, turnsFromFile } from '@pocket-twin/core/repair/plan/inSeconds.ts';
import { findsOf, savedRecipe, unfitFor } from '@pocket-twin/core/repair/plan/recipes.ts';
import { readRoute } from '@pocket-twin/core/repair/plan/routeText.ts';
import { turnsPlan } from '@pocket-twin/core/repair/plan/turnsPlan.ts';
import { NOTHING_TO_FIND, type Finds } from '@pocket-twin/core/schema/proposal.ts';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { Recipe } from '@pocket-twin/core/schema/recipe.ts';
import { SectionsFile, TurnsFile } from '@pocket-twin/core/schema/repairFile.ts';
import type { Repair, RepairOutput, Route } from '@pocket-twin/core/schema/repair.ts';
import { readChannel } from './words.ts';

export const MAIN_OPTIONS = {
  select: { type: 'string' },
  fill: { type: 'string' },
  swap: { type: 'boolean' },
  sum: { type: 'boolean' },
  split: { type: 'boolean' },
  auto: { type: 'boolean' },
  recipe: { type: 'string' },
  turns: { type: 'string' },
  sections: { type: 'string' },
  route: { type: 'string', multiple: true },
} as const;

/** At most one of these says what to do. */
export const MAIN = ['select', 'fill', 'swap', 'sum', 'split', 'auto', 'recipe', 'turns', 'sections', 'route'] as const;

export interface MainValues {
  select?: string;
  fill?: string;
  swap?: boolean;
  sum?: boolean;
  split?: boolean;
  auto?: boolean;
  recipe?: string;
  turns?: string;
  sections?: string;
  route?: string[];
}

/** What the main words ask for on one file: a plan, and what is to be found on the clip besides; or why it is left alone. */
export type BasePlan = { repair: Repair; finds: Finds; isRecipe?: true } | { leftAlone: string; mustDecide: boolean };

/** Reads the main words, and the files they name, once. @throws Refusal where they are off */
export async function basePlan(values: MainValues): Promise<(inspection: Inspection) => BasePlan> {
  const plain =
    (make: (channels: number) => Repair) =>
    (inspection: Inspection): BasePlan => ({
      repair: make(inspection.format.channels),
      finds: NOTHING_TO_FIND,
    });
  if (values.recipe !== undefined) return fromRecipe(await readFileAs(values.recipe, 'recipe', savedRecipe));
  if (values.auto)
    return (inspection) => {
      const { suggestion } = inspection;
      const repair = repairFromSuggestion(inspection);
      return repair
        ? { repair, finds: NOTHING_TO_FIND }
        : { leftAlone: suggestion.reason, mustDecide: suggestion.action !== 'none' };
    };
  if (values.select !== undefined) {
    const channel = readChannel(values.select, '--select');
    return plain((channels) => plans.selectChannel(within(channel, channels), channels));
  }
  if (values.fill !== undefined) {
    const channel = readChannel(values.fill, '--fill');
    return plain((channels) => plans.fillFrom(within(channel, channels), channels));
  }
  if (values.swap) return plain((channels) => plans.swapSides(atLeastTwo(channels, '--swap')));
  if (values.sum) return plain((channels) => plans.sumToMono(atLeastTwo(channels, '--sum')));
  if (values.split) return plain((channels) => plans.splitToMonos(atLeastTwo(channels, '--split')));
  if (values.route !== undefined) {
    const routes = readRoutes(values.route);
    return plain((channels) => {
      for (const { from } of routes.flat()) within(from, channels);
      return plans.routed(channels, routes);
    });
  }
  if (values.turns !== undefined) return inTurns(values.turns);
  if (values.sections !== undefined) return inSections(values.sections);
  return plain(plans.leaveAsItIs);
}

async function inTurns(word: string): Promise<(inspection: Inspection) => BasePlan> {
  if (word === 'auto')
    return ({ format }) => ({
      repair: plans.leaveAsItIs(format.channels),
      finds: { ...NOTHING_TO_FIND, turns: 'centred' },
    });
  const file = await readFileAs(word, 'list of turns', planIn('turns', TurnsFile));
  return ({ format }) => ({
    repair: turnsPlan(format.channels, turnsFromFile(file, format), file.output),
    finds: NOTHING_TO_FIND,
  });
}

async function inSections(word: string): Promise<(inspection: Inspection) => BasePlan> {
  if (word === 'auto')
    return ({ format }) => ({
      repair: plans.leaveAsItIs(format.channels),
      finds: { ...NOTHING_TO_FIND, sections: true },
    });
  const file = await readFileAs(word, 'list of sections', planIn('sections', SectionsFile));
  return ({ format }) => {
    const sections = sectionsFromFile(file, format);
    const outputs: RepairOutput[] = [{ suffix: '', layout: 'discrete', routes: sections.list[0].routes }];
    return { repair: { ...plans.routed(format.channels, outputs[0].routes), sections }, finds: NOTHING_TO_FIND };
  };
}

function fromRecipe(recipe: Recipe): (inspection: Inspection) => BasePlan {
  return (inspection) => {
    const whyNot = unfitFor(recipe, inspection);
    if (whyNot !== null) return { leftAlone: `The recipe “${recipe.name}” does not fit. ${whyNot}`, mustDecide: true };
    return { repair: recipe.repair, finds: findsOf(recipe), isRecipe: true };
  };
}

/** `OUT=IN[@DB][+IN[@DB]...]`, any number of them; an output below the highest that is not named is silent. */
function readRoutes(texts: string[]): Route[] {
  const named = new Map<number, Route>();
  for (const text of texts) {
    const at = text.indexOf('=');
    if (at < 1) throw new Refusal('bad-request', `--route takes OUT=IN, as in 1=2 or 2=1@-6+3, not “${text}”.`);
    const out = readChannel(text.slice(0, at), '--route');
    if (named.has(out)) throw new Refusal('bad-request', `--route names output ${out} twice: join its inputs with +.`);
    named.set(out, readRoute(text.slice(at + 1)));
  }
  return Array.from({ length: Math.max(...named.keys()) }, (_, i) => named.get(i + 1) ?? []);
}

/** The plan in time that a file holds: by itself, in a repair, or in a receipt as --json prints it. */
function planIn<Plan>(key: 'turns' | 'sections', schema: { parse: (value: unknown) => Plan }) {
  return (value: unknown): Plan => {
    let holder = value as Record<string, unknown> | undefined;
    for (const outer of ['receipt', 'repair'])
      if (holder && typeof holder === 'object' && outer in holder) holder = holder[outer] as Record<string, unknown>;
    const inner = holder?.[key];
    return schema.parse(inner && !Array.isArray(inner) ? inner : holder);
  };
}

async function readFileAs<Value>(path: string, what: string, read: (value: unknown) => Value): Promise<Value> {
  const text = await readFile(path, 'utf8').catch(() => {
    throw new Refusal('not-found', `The ${what} ${path} can’t be read. Check the name and the folder.`);
  });
  try {
    return read(JSON.parse(text));
  } catch {
    throw new Refusal('bad-request', `${path} is no ${what}. See --help for how one is made.`);
  }
}

/** @throws Refusal where a file has no such channel */
export function within(channel: number, channels: number): number {
  if (channel <= channels) return channel;
  throw new Refusal('bad-request', `There is no channel ${channel}: the file has ${channels}.`);
}

function atLeastTwo(channels: number, option: string): number {
  if (channels >= 2) return channels;
  throw new Refusal('bad-request', `${option} needs two channels: the file is mono.`);
}
