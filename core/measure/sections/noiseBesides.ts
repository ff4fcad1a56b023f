import { noiseOfWindows } from '../../kernels/blockSeries.ts';
import { powerFromDb } from '../../signal/decibels.ts';
import { NOTHING_POWER, STANDS_OUT_DB } from '../boundaries.ts';

const TRAITS = {
  // Of 100 ms.
  windowBlocks: 20,
  nothingPower: NOTHING_POWER,
  // Steady sound louder than this was recorded on purpose.
  loudestPower: powerFromDb(-45),
  steadyRatio: powerFromDb(2),
  // Speech and music stand this far out of their noise.
  standsOutRatio: powerFromDb(STANDS_OUT_DB),
  alikeBlocks: 4,
  // It moves by a few tenths of a decibel from one block to the next.
  mostRatio: powerFromDb(1),
};

/** The noise (a power) under each block as the two seconds before it and the two after it have it. Where only one of them is sure it speaks for both. */
export function noiseBesides(powers: Float64Array): { before: Float64Array; after: Float64Array } {
  return noiseOfWindows(powers, TRAITS);
}
