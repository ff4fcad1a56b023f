import { NOTHING_POWER, ONE_SIDED_DB, STANDS_OUT_DB } from '../measure/boundaries.ts';
import { noiseFloorPower, percentile } from '../measure/stream/noiseFloor.ts';
import { powerFromDb } from '../signal/decibels.ts';

// A word fills so many blocks of 100 ms, and of a clip no more than this.
const WORD_BLOCKS = 2;
const SELDOM_SHARE = 0.1;
const LOUD_SHARE = 0.9;
const FAR_BELOW = powerFromDb(-ONE_SIDED_DB);

/**
 * Whether somebody may be heard for a word on a side that else has nothing, however long the clip: it stands over its noise while it is not far below the
 * other side as that is just then, nor as that is in talk. What does so all the time is no word: hiss that an automatic gain lifts.
 * @param powers of the side, a block each @param live of the other side
 */
export function isHeardOnce(powers: Float64Array, live: Float64Array): boolean {
  const softest = Math.max(
    powerFromDb(STANDS_OUT_DB) * noiseFloorPower(powers),
    FAR_BELOW * percentile(live, LOUD_SHARE),
    NOTHING_POWER,
  );
  let heard = 0;
  let longest = 0;
  let run = 0;
  for (let i = 0; i < powers.length; i++) {
    run = powers[i] >= softest && powers[i] >= FAR_BELOW * live[i] ? run + 1 : 0;
    if (run > 0) heard++;
    longest = Math.max(longest, run);
  }
  return longest >= WORD_BLOCKS && heard <= SELDOM_SHARE * powers.length;
}
