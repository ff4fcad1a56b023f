import type { PairMatch } from '../../measure/pair/pairMatch.ts';
import type { LineUp } from '../../schema/proposal.ts';
import type { InputTrim } from '../../schema/repair.ts';

// Among unrelated channels some lag always looks best: a common arrival stands so far out of the rest.
const LEAST_PROMINENCE = 6;
// Nearer to a whole sample than measuring goes, the whole one is meant: it is moved exactly.
const WHOLE_WITHIN = 0.06;

/** What two channels have in common in time; null where nothing reaches both. */
export function lineUpOf(match: PairMatch | null): LineUp | null {
  if (!match || match.arrival.prominence < LEAST_PROMINENCE) return null;
  const whole = Math.round(match.delaySamples);
  const delaySamples =
    Math.abs(match.delaySamples - whole) <= WHOLE_WITHIN ? whole : Math.round(match.delaySamples * 100) / 100;
  return {
    delaySamples,
    polarity: match.polarity < 0 ? 'inverted' : 'normal',
    nullBeforeDb: match.levelNullDb,
    nullAfterDb: match.alignedNullDb,
    sumLossBeforeDb: sumLossDb(match.levelNullDb, match.gainDb, match.plainNullDb > 0 ? -1 : 1),
    sumLossAfterDb: sumLossDb(match.alignedNullDb, match.gainDb, 1),
  };
}

/** The trim that undoes a difference in time: the earlier channel waits. Polarity stays. */
export function lineUpTrim([first, second]: [number, number], { delaySamples }: LineUp): InputTrim {
  return {
    channel: delaySamples > 0 ? first : second,
    gainDb: 0,
    polarity: 'normal',
    delaySamples: Math.abs(delaySamples),
  };
}

/**
 * What the half sum of two channels loses against the louder of them.
 * @param nullDb the second minus the first at the best gain, relative to their sum at that gain: (1 - r) / (1 + r) of their correlation r
 * @param sign of the correlation
 */
function sumLossDb(nullDb: number, gainDb: number, sign: 1 | -1): number {
  const left = 10 ** (nullDb / 10);
  const correlation = (sign * Math.max(0, 1 - left)) / (1 + left);
  const gain = 10 ** (gainDb / 20);
  const sum = (1 + gain * gain + 2 * gain * correlation) / 4;
  return -10 * Math.log10(Math.max(sum, 1e-12) / Math.max(1, gain * gain));
}
