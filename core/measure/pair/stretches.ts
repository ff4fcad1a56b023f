import { STANDS_OUT_DB } from '../boundaries.ts';
import { powerFromDb } from '../../signal/decibels.ts';
import type { BlockSpan } from '../../time/spans.ts';
import type { ChannelMeasurement } from '../measurement.ts';
import { noiseFloorPower, percentile } from '../stream/noiseFloor.ts';

/** Part of a clip, in frames. */
interface Stretch {
  startFrame: number;
  frames: number;
}

export interface Stretches {
  /** Where something is heard, spread evenly over the range. */
  active: Stretch[];
  /** Where nobody speaks: only the noise of both channels. At most `MOST_PAUSES`. */
  pauses: Stretch[];
}

const MOST_PAUSES = 6;
// With the reach of the delays this fills a power of two at 44.1 and 48 kHz.
const STRETCH_SECONDS = 0.29;
const STANDS_OUT = powerFromDb(STANDS_OUT_DB);
// Sound without pauses never stands out of its floor that far: then what comes within 6 dB of its louder quarter will do.
const NEARLY_LOUD = powerFromDb(-6);
// A side that moves by less than this is steady noise, or a steady programme.
const MOVES = powerFromDb(6);
// A pause is near the floor on both sides, and steady: noise moves by a few tenths of a decibel, dying sound by more.
const NEAR_FLOOR = powerFromDb(3);
const STEADY = powerFromDb(1.3);

export interface StretchRange extends BlockSpan {
  sampleRate: number;
  blockSeconds: number;
  /** Frames in the clip. */
  frames: number;
  /** At most this many active stretches. */
  mostActive: number;
}

/**
 * Picks a bounded number of stretches to look at again. The range is cut into equal parts, and in each
 * the loudest stretch is taken, by turns of the left, the right and both sides, so that someone heard mostly on one
 * of them is not left out.
 */
export function chooseStretches(sides: [ChannelMeasurement, ChannelMeasurement], range: StretchRange): Stretches {
  const { sampleRate, blockSeconds, startBlock: from, endBlock: to, mostActive } = range;
  const length = Math.round(STRETCH_SECONDS * sampleRate);
  const blocks = Math.max(1, Math.ceil(STRETCH_SECONDS / blockSeconds));
  // From here on blocks count from the start of the range.
  const relative = sides.map(({ blockSpeechPower }) => {
    // What was recorded differently has a floor of its own.
    const inRange = blockSpeechPower.subarray(from, to);
    const floor = noiseFloorPower(inRange) || Number.MIN_VALUE;
    return inRange.map((power) => power / floor);
  });
  const least = relative.map((ratios) =>
    percentile(ratios, 0.95) < MOVES ? Infinity : Math.min(STANDS_OUT, NEARLY_LOUD * percentile(ratios, 0.75)),
  );
  const count = to - from;
  const steady = least.every((value) => value === Infinity);
  // Of each side and of both; 0 where a side is steady.
  const [left, right] = relative.map((ratios, side) => ratios.map((ratio) => ratio / least[side]));
  const either = left.map((value, i) => Math.max(value, right[i]));
  const loudness = [left, right, either];
  const stretchAt = (block: number): Stretch => {
    const startFrame = Math.round((from + block) * blockSeconds * sampleRate);
    return { startFrame, frames: Math.min(length, range.frames - startFrame) };
  };
  const starts = (parts: number, worth: (block: number, part: number) => number, enough: number): Stretch[] => {
    const found: Stretch[] = [];
    for (let part = 0; part < parts; part++) {
      const first = Math.floor((part * count) / parts);
      const last = Math.max(first + 1, Math.floor(((part + 1) * count) / parts) - blocks + 1);
      let [best, most] = [first, worth(first, part)];
      for (let block = first + 1; block < last; block++) {
        const value = worth(block, part);
        if (value > most) [best, most] = [block, value];
      }
      if (most >= enough) found.push(stretchAt(best));
    }
    return found;
  };
  const meanOver = (block: number, values: Float64Array): number => {
    let total = 0;
    for (let i = block; i < Math.min(block + blocks, count); i++) total += values[i];
    return total / blocks;
  };
  const louderSide = (block: number, part: number): number => {
    const one = meanOver(block, loudness[part % 3]);
    return one >= 1 ? one : meanOver(block, either);
  };
  const quietness = (block: number): number => {
    let worst = 0;
    for (const ratios of relative) {
      let [loudest, quietest] = [0, Infinity];
      for (let i = block; i < Math.min(block + blocks, count); i++) {
        loudest = Math.max(loudest, ratios[i]);
        quietest = Math.min(quietest, ratios[i]);
      }
      if (quietest === 0 || loudest / quietest > STEADY) return -Infinity;
      worst = Math.max(worst, loudest);
    }
    return -worst;
  };
  return {
    active: starts(partsOf(count, blocks, mostActive), steady ? () => 0 : louderSide, steady ? 0 : 1),
    pauses: steady ? [] : starts(partsOf(count, 2 * blocks, MOST_PAUSES), quietness, -NEAR_FLOOR),
  };
}

function partsOf(count: number, blocks: number, most: number): number {
  return Math.max(1, Math.min(most, Math.floor(count / blocks)));
}
