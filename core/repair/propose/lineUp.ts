import { delayAtStart } from '../../measure/pair/drift.ts';
import type { PairMatch } from '../../measure/pair/pairMatch.ts';
import { hundredth, nearWhole } from '../plan/lineUpTrims.ts';
import type { LineUp } from '../../schema/proposal.ts';

// Among unrelated channels some lag always looks best: a common arrival stands so far out of the rest.
const LEAST_PROMINENCE = 6;

/** What two channels have in common in time; null where nothing reaches both. @param startFrame where what was matched begins in the clip */
export function lineUpOf(match: PairMatch | null, sampleRate: number, startFrame = 0): LineUp | null {
  if (!match || match.arrival.prominence < LEAST_PROMINENCE) return null;
  const { driftPpm, jump } = match;
  const atStart = delayAtStart(match, startFrame);
  return {
    // Where clocks run apart no sample stays a whole one.
    delaySamples: driftPpm === 0 ? nearWhole(atStart) : hundredth(atStart),
    driftPpm,
    jump: jump && {
      atSeconds: (startFrame + jump.atFrame) / sampleRate,
      delaySamples: nearWhole(jump.samples),
    },
    polarity: match.polarity < 0 ? 'inverted' : 'normal',
    nullBeforeDb: match.levelNullDb,
    nullAfterDb: match.alignedNullDb,
    sumLossBeforeDb: sumLossDb(match.levelNullDb, match.gainDb, match.plainNullDb > 0 ? -1 : 1),
    sumLossAfterDb: sumLossDb(match.alignedNullDb, match.gainDb, 1),
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
