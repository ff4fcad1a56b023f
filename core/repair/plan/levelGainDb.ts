import type { Measurement } from '../../measure/measurement.ts';
import type { LevelTarget } from '../../schema/repair.ts';
import { dbFromAmplitude } from '../../signal/decibels.ts';

/**
 * The one gain that brings a repair's outputs to their level target without changing the balance
 * between them: the loudest output meets the target, and no true peak passes the ceiling.
 * @param outputs one measurement an output file, made before the gain
 */
export function levelGainDb(outputs: Measurement[], target: LevelTarget): number {
  if (target.commonGainDb !== null) return target.commonGainDb;
  const peakDbtp = dbFromAmplitude(
    Math.max(...outputs.flatMap((output) => output.channels.map((channel) => channel.truePeak))),
  );
  if (peakDbtp === -Infinity) return 0;
  const loudnessLufs = Math.max(
    ...outputs.map((output) =>
      output.pairs.length > 0 ? output.pairs[0].loudnessLufs : output.channels[0].loudnessLufs,
    ),
  );
  let gainDb = 0;
  if (target.loudnessLufs !== null && loudnessLufs > -Infinity) gainDb = target.loudnessLufs - loudnessLufs;
  else if (target.peakDbtp !== null) gainDb = target.peakDbtp - peakDbtp;
  return target.ceilingDbtp === null ? gainDb : Math.min(gainDb, target.ceilingDbtp - peakDbtp);
}
