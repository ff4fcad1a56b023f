import type { Inspection } from '../../schema/inspection.ts';

const MOST_MICROPHONES = 8;

/** The channels that speak, of copies the first. */
export function microphonesOf({ channels, duplicates }: Pick<Inspection, 'channels' | 'duplicates'>): number[] {
  return channels
    .filter(
      ({ channel, content }) => content === 'programme' && !duplicates.some((group) => group.indexOf(channel) > 0),
    )
    .map(({ channel }) => channel)
    .slice(0, MOST_MICROPHONES);
}
