import type { Suggestion } from '../schema/inspection.ts';
import type { Repair } from '../schema/repair.ts';
import { fillFrom, leaveAsItIs, selectChannel, splitToMonos, sumToMono, swapSides } from './plans.ts';

/** The repair a suggestion stands for; null where a person must decide or nothing is to be done. */
export function repairFromSuggestion(suggestion: Suggestion, inputChannels: number): Repair | null {
  const from = suggestion.from ?? 1;
  switch (suggestion.action) {
    case 'fill': return fillFrom(from, inputChannels);
    case 'select': return selectChannel(from, inputChannels);
    case 'split': return splitToMonos(inputChannels);
    case 'swap': return swapSides(inputChannels);
    case 'sum': return sumToMono(inputChannels);
    case 'invert': {
      const trims = suggestion.to.map((channel) => ({ channel, gainDb: 0, polarity: 'inverted' as const, delaySamples: 0 }));
      return { ...leaveAsItIs(inputChannels), action: 'trim', trims };
    }
    default: return null;
  }
}
