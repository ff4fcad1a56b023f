import { isTurnedOver } from '../../diagnose/catalogue/stereo.ts';
import type { ClipFormat, Inspection, PairReport } from '../../schema/inspection.ts';
import type { InputTrim, Repair } from '../../schema/repair.ts';
import { doesSomething } from './compare.ts';
import { hundredth, lineUpTrims } from './lineUpTrims.ts';
import { fillFrom, leaveAsItIs, selectChannel, splitToMonos, sumToMono, swapSides } from './plans.ts';
import { addTrims, NO_TRIM } from './trims.ts';

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
      return undisguise(format, pairs[0]);
    case 'none':
    case 'review':
      return null;
  }
}

/** What is worth hearing where a person is to look; null where nothing is known. */
export function repairToTry({ format, pairs }: Pick<Inspection, 'format' | 'pairs'>): Repair | null {
  if (format.channels !== 2 || !isTurnedOver(pairs[0])) return null;
  return matchPlan(format, { gainDb: 0, delaySamples: 0, driftPpm: 0, jump: null, polarity: 'inverted' });
}

/**
 * Both sides brought to one polarity, level and time: the right side is turned over where it is upside down, the
 * louder side comes down (never the quieter up, which could clip), the earlier waits for the later.
 */
function undisguise(
  format: ClipFormat,
  { disguise, gainDb, delaySamples, driftPpm, jump, polarity }: PairReport,
): Repair {
  const late = disguise.includes('delay');
  return matchPlan(format, {
    gainDb: disguise.includes('level') ? gainDb : 0,
    delaySamples: late ? delaySamples : 0,
    driftPpm: late ? driftPpm : 0,
    jump: late ? jump : null,
    polarity,
  });
}

/** Channels 1 and 2 with the given difference of level, time and polarity undone. */
export function matchPlan(
  format: Pick<ClipFormat, 'channels' | 'frames' | 'sampleRate'>,
  { gainDb, polarity, ...late }: Pick<PairReport, 'gainDb' | 'delaySamples' | 'driftPpm' | 'jump' | 'polarity'>,
): Repair {
  const gain = gainDb ?? 0;
  const levels: InputTrim[] = [
    { ...NO_TRIM, channel: 1, gainDb: Math.min(0, gain) },
    { ...NO_TRIM, channel: 2, gainDb: Math.min(0, 0 - gain), polarity },
  ];
  const trims = addTrims(levels, lineUpTrims([1, 2], { ...late, delaySamples: hundredth(late.delaySamples) }, format));
  return { ...leaveAsItIs(format.channels), action: 'trim', trims: trims.filter(doesSomething) };
}
