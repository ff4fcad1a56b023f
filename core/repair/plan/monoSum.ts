import type { Levels } from '../../schema/forecast.ts';
import type { Repair } from '../../schema/repair.ts';
import { cable, routed } from './plans.ts';

const HALF_DB = 20 * Math.log10(0.5);

/** A plan whose outputs are channels 1 and 2 as they are trimmed, and half their sum: to hear what a sum loses. */
export function monoSumOf({ inputChannels, trims }: Repair): Repair {
  return { ...routed(inputChannels, [[cable(1)], [cable(2)], [cable(1, HALF_DB), cable(2, HALF_DB)]]), trims };
}

/**
 * What the half sum of two channels loses against the louder of them, in LU: 0 where they are the same, 6 where only one sounds, more where they
 * work against each other. @param levels of `monoSumOf` @returns null where nothing is left of the sum
 */
export function sumLossOf([first, second, sum]: readonly Levels[]): number | null {
  const louder = Math.max(first.loudnessLufs ?? -Infinity, second.loudnessLufs ?? -Infinity);
  return sum.loudnessLufs === null ? null : louder - sum.loudnessLufs;
}
