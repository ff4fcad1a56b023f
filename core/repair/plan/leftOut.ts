import { LEAST_CONFIDENCE } from '../../diagnose/boundaries.ts';
import type { Inspection, PairReport } from '../../schema/inspection.ts';
import { allRoutes, type Repair } from '../../schema/repair.ts';

/** How much of a channel that feeds nothing is on those that are kept. */
export type HeldElsewhere = 'copy' | 'disguise' | 'trace' | 'nothing' | 'its own';

/** The channels that feed nothing, and what of each is kept all the same. */
export function leftOutChannels(
  repair: Pick<Repair, 'outputs' | 'sections'>,
  inspection: Inspection,
): { channel: number; held: HeldElsewhere }[] {
  const used = new Set(allRoutes(repair).flatMap((route) => route.map(({ from }) => from)));
  return inspection.channels
    .filter(({ channel }) => !used.has(channel))
    .map(({ channel, content }) => ({
      channel,
      held: content === 'programme' ? heldBy(channel, used, inspection) : 'nothing',
    }));
}

/** The channels that carry sound of their own and feed nothing. */
export function lostChannels(repair: Pick<Repair, 'outputs' | 'sections'>, inspection: Inspection): number[] {
  return leftOutChannels(repair, inspection).flatMap(({ channel, held }) => (held === 'its own' ? [channel] : []));
}

function heldBy(
  channel: number,
  used: ReadonlySet<number>,
  { pairs, duplicates, suggestion }: Inspection,
): HeldElsewhere {
  if (duplicates.some((group) => group.includes(channel) && group.some((other) => used.has(other)))) return 'copy';
  const pair = pairs.find(
    ({ channels }) => channels.includes(channel) && channels.some((other) => other !== channel && used.has(other)),
  );
  if (pair?.verdict === 'dual-mono') return 'copy';
  if (pair?.verdict === 'fake-stereo') return 'disguise';
  if (
    pair?.verdict === 'changing' &&
    suggestion.action === 'fill' &&
    suggestion.from !== null &&
    used.has(suggestion.from)
  )
    return 'nothing';
  return pair?.verdict === 'one-sided' && pair.confidence >= LEAST_CONFIDENCE && channel !== liveChannel(pair)
    ? 'trace'
    : 'its own';
}

function liveChannel({ channels, side }: PairReport): number {
  return channels[side === 'left' ? 0 : 1];
}
