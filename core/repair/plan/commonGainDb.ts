import { integratedLoudness } from '../../measure/stream/loudness.ts';
import type { LevelTarget } from '../../schema/repair.ts';
import { dbFromAmplitude } from '../../signal/decibels.ts';

/** What of a clip, as its repair makes it, decides its level. */
export interface Programme {
  /** K-weighted mean square of each 100 ms step, over the channels that are heard together. */
  stepPowers: Float64Array;
  truePeak: number;
}

/**
 * The one gain that brings several clips, played one after the other as one programme, to a target, so that their relations stay; lower where any of
 * them would pass the ceiling.
 */
export function commonGainDb(programmes: readonly Programme[], target: LevelTarget): number {
  const peakDbtp = dbFromAmplitude(Math.max(0, ...programmes.map(({ truePeak }) => truePeak)));
  if (peakDbtp === -Infinity) return 0;
  const all = new Float64Array(programmes.reduce((sum, { stepPowers }) => sum + stepPowers.length, 0));
  let at = 0;
  for (const { stepPowers } of programmes) {
    all.set(stepPowers, at);
    at += stepPowers.length;
  }
  const loudnessLufs = integratedLoudness(all);
  let gainDb = 0;
  if (target.loudnessLufs !== null && loudnessLufs > -Infinity) gainDb = target.loudnessLufs - loudnessLufs;
  else if (target.peakDbtp !== null) gainDb = target.peakDbtp - peakDbtp;
  return target.ceilingDbtp === null ? gainDb : Math.min(gainDb, target.ceilingDbtp - peakDbtp);
}
