import { copiesAmong } from '../../diagnose/copies.ts';
import type { Inspection } from '../../schema/inspection.ts';

const MOST_MICROPHONES = 8;

/** The channels that speak, of copies the one that is kept; a mix of them is no microphone. */
export function microphonesOf({
  channels,
  duplicates,
  mixes,
}: Pick<Inspection, 'channels' | 'duplicates' | 'mixes'>): number[] {
  const copies = copiesAmong(duplicates, channels);
  const isMix = (channel: number): boolean => mixes.some((mix) => mix.channel === channel);
  return channels
    .filter(({ channel, content }) => content === 'programme' && !copies.has(channel) && !isMix(channel))
    .map(({ channel }) => channel)
    .slice(0, MOST_MICROPHONES);
}
