import { matchedGainsDb } from '@pocket-twin/core/repair/plan/matchedLoudness.ts';
import { NO_TRIM } from '@pocket-twin/core/repair/plan/trims.ts';
import { selectChannel } from '@pocket-twin/core/repair/plan/plans.ts';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { sayDecibels } from '@pocket-twin/core/signal/sayDecibels.ts';
import { channelLabel } from '../../parts/channelWords.ts';

// Less is not heard.
const LEAST_SAID_DB = 0.1;

/** One channel on both speakers, as loud as the others that speak. */
export function soloPlan(channel: number, { channels }: Pick<Inspection, 'channels'>): Repair {
  const gainDb = matchedGainsDb(channels)[channel - 1];
  return { ...selectChannel(channel, channels.length), trims: gainDb === 0 ? [] : [{ ...NO_TRIM, channel, gainDb }] };
}

/** "Channel 3, 4.2 dB up to be as loud as the others". */
export function soloWords(channel: number, { channels }: Pick<Inspection, 'channels'>): string {
  const gainDb = matchedGainsDb(channels)[channel - 1];
  const label = channelLabel(channel, channels.length);
  if (channels[channel - 1].content !== 'programme') return `${label} alone, as it is`;
  if (Math.abs(gainDb) < LEAST_SAID_DB) return `${label} alone`;
  return `${label} alone, ${sayDecibels(Math.abs(gainDb), 'dB')} ${gainDb > 0 ? 'up' : 'down'} to be as loud as the others`;
}
