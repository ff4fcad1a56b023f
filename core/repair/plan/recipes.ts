import { channelName } from '../../diagnose/channelName.ts';
import type { Inspection } from '../../schema/inspection.ts';
import { Recipe, type RecipeFinds, type RecipeNeeds } from '../../schema/recipe.ts';
import { allRoutes, type InputTrim, type Repair } from '../../schema/repair.ts';
import type { Finds } from '../../schema/proposal.ts';
import { doesSomething } from './compare.ts';
import { sameRoute } from './timeline.ts';
import { NO_TRIM } from './trims.ts';
import { savedRepair } from './upgrade.ts';

/** What a recipe of a clip's repair asks of other clips: what it takes carries programme here, what it leaves out carries none. */
export function recipeOf(name: string, repair: Repair, { channels, format }: Inspection): Recipe {
  const used = usedChannels(repair);
  const has = (channel: number): boolean => channels[channel - 1].content === 'programme';
  const all = Array.from({ length: format.channels }, (_, i) => i + 1);
  const finds: RecipeFinds[] = [
    ...(repair.sections ? ['sections' as const] : []),
    ...(repair.turns ? ['turns' as const] : []),
    // Clocks run apart otherwise in each clip.
    ...(hasCourse(repair) ? ['line-up' as const] : []),
  ];
  return {
    recipe: 1,
    name,
    needs: {
      channels: format.channels,
      programme: all.filter((channel) => used.has(channel) && has(channel)),
      empty: all.filter((channel) => !used.has(channel) && !has(channel)),
    },
    repair: {
      ...repair,
      trims: trimsForOthers(repair),
      sections: null,
      turns: null,
      level: repair.level && { ...repair.level, commonGainDb: null },
    },
    finds,
  };
}

function hasCourse({ trims }: Repair): boolean {
  return trims.some(({ course }) => course !== undefined);
}

/** What is found anew on each clip is no part of what is done to all. */
function trimsForOthers(repair: Repair): InputTrim[] {
  if (!hasCourse(repair)) return repair.trims;
  return repair.trims
    .map(({ channel, gainDb, polarity }) => ({ ...NO_TRIM, channel, gainDb, polarity }))
    .filter(doesSomething);
}

/**
 * A recipe as it was saved, by this version or an earlier one; a bare repair is a recipe that asks for nothing but its channels.
 * @throws ZodError where it is none
 */
export function savedRecipe(value: unknown): Recipe {
  const saved = value as { recipe?: unknown; repair?: unknown };
  if (saved && typeof saved === 'object' && 'recipe' in saved && saved.repair !== undefined) return Recipe.parse(saved);
  const repair = savedRepair(value);
  return Recipe.parse({
    recipe: 1,
    name: 'Recipe',
    needs: { channels: repair.inputChannels, programme: [], empty: [] },
    repair,
    finds: [],
  });
}

/** "speech on 1, nothing on 2". */
export function needsInWords({ channels, programme, empty }: RecipeNeeds): string {
  const list = (numbers: number[]): string => numbers.join(', ').replace(/, (\d+)$/, ' and $1');
  return [
    channels === 1 ? 'mono' : channels === 2 ? 'stereo' : `${channels} channels`,
    ...(programme.length > 0 ? [`programme on ${list(programme)}`] : []),
    ...(empty.length > 0 ? [`nothing on ${list(empty)}`] : []),
  ].join(', ');
}

/** Why a recipe does not fit a clip, in a sentence; null where it does. */
export function unfitFor(recipe: Recipe, inspection: Inspection): string | null {
  const { needs } = recipe;
  const { format, channels } = inspection;
  if (format.channels !== needs.channels)
    return `It has ${countOf(format.channels)}; the recipe is for ${needs.channels}.`;
  const missing = needs.programme.find((channel) => channels[channel - 1].content !== 'programme');
  if (missing !== undefined)
    return `Here ${channelName(missing, format.channels)} ${channels[missing - 1].content === 'silent' ? 'is silent' : 'is only noise'}: nothing would be left of it.`;
  const surplus = needs.empty.find(
    (channel) => channels[channel - 1].content === 'programme' && !isTrace(channel, inspection),
  );
  if (surplus !== undefined)
    return `Here ${channelName(surplus, format.channels)} carries programme, which the recipe would leave out.`;
  return null;
}

/** What a recipe has found anew on each clip; turns are mixed as its own repair was. */
export function findsOf({ finds, repair: { outputs } }: Recipe): Finds {
  const [first] = outputs;
  const isMix = first.routes.every((route) => sameRoute(route, first.routes[0]));
  return {
    sections: finds.includes('sections'),
    turns: !finds.includes('turns') ? null : outputs.length > 1 ? 'separate' : isMix ? 'centred' : 'sides',
    lineUp: finds.includes('line-up') ? [1, 2] : null,
    balance: finds.includes('balance'),
  };
}

/** Every channel that feeds any output at any time. */
function usedChannels(repair: Repair): Set<number> {
  return new Set(allRoutes(repair).flatMap((route) => route.map(({ from }) => from)));
}

/** Faint bleed of the other side is programme by its sound, and nothing of its own. */
function isTrace(channel: number, { pairs }: Inspection): boolean {
  const pair = pairs.find(({ channels }) => channels.includes(channel));
  return pair?.verdict === 'one-sided' && pair.channels[pair.side === 'left' ? 1 : 0] === channel;
}

function countOf(channels: number): string {
  return channels === 1 ? 'one channel' : `${channels} channels`;
}
