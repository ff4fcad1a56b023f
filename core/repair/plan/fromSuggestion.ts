import type { Inspection, PairReport } from '../../schema/inspection.ts';
import type { InputTrim, Repair } from '../../schema/repair.ts';
import { fillFrom, leaveAsItIs, selectChannel, splitToMonos, sumToMono, swapSides } from './plans.ts';

/** The repair that an inspection suggests; null where a person must decide or nothing is to be done. */
export function repairFromSuggestion({
  suggestion,
  format,
  pairs,
}: Pick<Inspection, 'suggestion' | 'format' | 'pairs'>): Repair | null {
  const inputChannels = format.channels;
  const from = suggestion.from ?? 1;
  switch (suggestion.action) {
    case 'fill':
      return fillFrom(from, inputChannels);
    case 'select':
      return selectChannel(from, inputChannels);
    case 'split':
      return splitToMonos(inputChannels, suggestion.to.length > 0 ? suggestion.to : undefined);
    case 'swap':
      return swapSides(inputChannels);
    case 'sum':
      return sumToMono(inputChannels);
    case 'invert':
    case 'align':
    case 'balance':
      return undisguise(inputChannels, pairs[0]);
    case 'none':
    case 'review':
      return null;
  }
}

/**
 * Both sides brought to one polarity, level and time: the right side is turned over where it is upside down, the
 * louder side comes down (never the quieter up, which could clip), the earlier waits for the later.
 */
function undisguise(inputChannels: number, { disguise, gainDb, delaySamples, polarity }: PairReport): Repair {
  return matchPlan(inputChannels, {
    gainDb: disguise.includes('level') ? gainDb : 0,
    delaySamples: disguise.includes('delay') ? delaySamples : 0,
    polarity,
  });
}

/** Channels 1 and 2 with the given difference of level, time and polarity undone. */
export function matchPlan(
  inputChannels: number,
  { gainDb, delaySamples, polarity }: Pick<PairReport, 'gainDb' | 'delaySamples' | 'polarity'>,
): Repair {
  const gain = gainDb ?? 0;
  const delay = Math.round(delaySamples * 100) / 100;
  const trim = (channel: number, gainDown: number, wait: number, turned: boolean): InputTrim => ({
    channel,
    gainDb: Math.min(0, gainDown),
    delaySamples: Math.max(0, wait),
    polarity: turned ? 'inverted' : 'normal',
  });
  const trims = [trim(1, gain, delay, false), trim(2, -gain, -delay, polarity === 'inverted')].filter(
    (one) => one.gainDb !== 0 || one.delaySamples !== 0 || one.polarity === 'inverted',
  );
  return { ...leaveAsItIs(inputChannels), action: 'trim', trims };
}
