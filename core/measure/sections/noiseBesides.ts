import { noiseOfWindows } from '../../kernels/blockSeries.ts';
import { powerFromDb } from '../../signal/decibels.ts';
import { NOTHING_POWER, STANDS_OUT_DB } from '../boundaries.ts';

// In blocks of 100 ms.
const NOISE_WINDOW = 20;
// Noise moves by a few tenths of a decibel from one block to the next.
const MOST_NOISE = powerFromDb(1);
const TRAITS = {
  windowBlocks: NOISE_WINDOW,
  nothingPower: NOTHING_POWER,
  // Steady sound louder than this was recorded on purpose.
  loudestPower: powerFromDb(-45),
  steadyRatio: powerFromDb(2),
  // Speech and music stand this far out of their noise.
  standsOutRatio: powerFromDb(STANDS_OUT_DB),
  alikeBlocks: 4,
};

/** The noise (a power) under each block as the two seconds before it and the two after it have it. Where only one of them is sure it speaks for both. */
export function noiseBesides(powers: Float64Array): { before: Float64Array; after: Float64Array } {
  // What follows a block is the window of a later one.
  const { noise, sure } = noiseOfWindows(powers, TRAITS);
  const before = powers.slice();
  const after = powers.slice();
  for (let i = 0; i < powers.length; i++) {
    const later = Math.min(powers.length, i + NOISE_WINDOW) - 1;
    const first = noise[sure[later] > sure[i] ? later : i];
    const second = noise[sure[i] > sure[later] ? i : later];
    before[i] = Math.min(MOST_NOISE * powers[i], first || second);
    after[i] = Math.min(MOST_NOISE * powers[i], second || first);
  }
  return { before, after };
}
