import { leaningTurn, placesBetween, sumsWhereBoth } from '../kernels/blockSeries.ts';
import type { ChannelMeasurement } from '../measure/measurement.ts';
import { NOTHING_POWER } from '../measure/boundaries.ts';
import { noiseFloorPower, percentile } from '../measure/stream/noiseFloor.ts';
import { dbFromPower, powerFromDb } from '../signal/decibels.ts';

/** From a moment on each side carries what the other carried before. */
interface Exchange {
  atSeconds: number;
  /** What shows it: the noise of each side in its pauses, or how much louder one side is all the time. */
  by: 'noise' | 'leaning';
}

// A pause is as quiet as this over the quietest tenth, both sides together: that stays what it is when they change places.
const PAUSE_DB = 3;
// What stands this far over the noise is heard.
const HEARD_DB = 12;
/** Two preamplifiers, or a picture that leans, differ by more than this; by less they may differ by chance. */
const LEAST_NOISE_APART_DB = 1.2;
const LEAST_LEANING_DB = 2;
/** So much of what is looked at leans one way before and the other way after ... */
const LEAST_AGREEING = 0.95;
/** ... by the same amount, but for this; */
const SAME_DB = 1.5;
/** and it scatters by no more than this share of it. */
const MOST_SCATTER = 0.5;
// Two seconds of pauses or half a minute of talk: in whole there must be so much on either side of the moment.
const LEAST_PAUSES_SECONDS = 0.5;
const LEAST_HEARD_SECONDS = 3;
const GOES_ON_BLOCKS = 3;

/**
 * Whether the sides change places once. Their noise says so where it differs: preamplifiers stay with their cables. Else what leans may: a
 * picture that is louder on one side all the time and from a moment on as much louder on the other. People who take turns lean to and fro and are none.
 */
export function exchangeOf(
  [left, right]: readonly [ChannelMeasurement, ChannelMeasurement],
  blockSeconds: number,
): Exchange | null {
  const sides: Sides = { left: left.blockSpeechPower, right: right.blockSpeechPower };
  const together = sumsWhereBoth(sides.left, sides.right, NOTHING_POWER);
  const floor = noiseFloorPower(together);
  const pauses = placesBetween(together, 0, floor * powerFromDb(PAUSE_DB));
  const loud = placesBetween(together, floor * powerFromDb(HEARD_DB));
  const leastHeard = LEAST_HEARD_SECONDS / blockSeconds;
  // Music and places go on without pauses.
  const heard = loud.length >= leastHeard ? loud : placesBetween(together, 0);
  const inPauses =
    heard !== loud ? null : turnOf(sides, pauses, LEAST_PAUSES_SECONDS / blockSeconds, LEAST_NOISE_APART_DB);
  if (inPauses && bothChange(sides, pauses, inPauses))
    return { atSeconds: sharpestTurn(sides, loud, inPauses) * blockSeconds, by: 'noise' };
  const inSound = turnOf(sides, heard, leastHeard, LEAST_LEANING_DB);
  if (!inSound) return null;
  const at = (inSound.last + inSound.first + 1) / 2;
  // Where somebody falls silent and somebody else begins, the picture leans the other way by itself.
  const goesOn = heard.filter((block) => Math.abs(block - at) <= GOES_ON_BLOCKS).length >= 2 * GOES_ON_BLOCKS;
  return goesOn ? { atSeconds: at * blockSeconds, by: 'leaning' } : null;
}

/** The powers of each block. */
interface Sides {
  left: Float64Array;
  right: Float64Array;
}

/** Between which blocks something turns. */
interface Turn {
  last: number;
  first: number;
}

/** Where left over right turns from one value to its opposite; null where it does not. */
function turnOf({ left, right }: Sides, blocks: Int32Array, least: number, leastApartDb: number): Turn | null {
  const count = blocks.length;
  if (count < 2 * least) return null;
  const { split, furthest } = leaningTurn(left, right, blocks);
  // Each block that leans the other way than its part takes two from the whole.
  if (furthest < (2 * LEAST_AGREEING - 1) * count || split < least || count - split < least) return null;
  const apartDb = Float64Array.from(blocks, (block) => dbFromPower(left[block] / right[block]));
  const one = percentile(apartDb.subarray(0, split), 0.5);
  const other = percentile(apartDb.subarray(split), 0.5);
  const apart = (Math.abs(one) + Math.abs(other)) / 2;
  const scatter = percentile(
    apartDb.map((value, i) => Math.abs(value - (i < split ? one : other))),
    0.5,
  );
  const turns =
    one * other < 0 &&
    apart >= leastApartDb &&
    Math.abs(one + other) <= Math.min(SAME_DB, apart) &&
    scatter <= MOST_SCATTER * apart;
  return turns ? { last: blocks[split - 1], first: blocks[split] } : null;
}

/** Whether the noise of each side is what that of the other was: a gain that was moved changes one of them alone. */
function bothChange(sides: Sides, pauses: Int32Array, { first }: Turn): boolean {
  const before = pauses.filter((block) => block < first);
  const after = pauses.filter((block) => block >= first);
  const levelDb = (blocks: Int32Array, side: 'left' | 'right'): number =>
    percentile(
      Float64Array.from(blocks, (block) => dbFromPower(sides[side][block])),
      0.5,
    );
  return (
    Math.abs(levelDb(before, 'left') - levelDb(after, 'right')) <= SAME_DB &&
    Math.abs(levelDb(before, 'right') - levelDb(after, 'left')) <= SAME_DB
  );
}

/** Between two pauses nobody hears the noise: there the moment is where what is heard leans to the other side most abruptly. */
function sharpestTurn({ left, right }: Sides, loud: Int32Array, { last, first }: Turn): number {
  const between = loud.filter((block) => block > last && block < first);
  const apartDb = (block: number): number => dbFromPower(left[block] / right[block]);
  let sharpest = 0;
  let place = (last + first + 1) / 2;
  // The block in which it happens holds some of either.
  for (let i = 2; i < between.length; i++) {
    if (between[i] - between[i - 2] > 2) continue;
    const turned = Math.abs(apartDb(between[i - 2]) - apartDb(between[i]));
    if (turned > sharpest) [sharpest, place] = [turned, between[i - 1] + 0.5];
  }
  return place;
}
