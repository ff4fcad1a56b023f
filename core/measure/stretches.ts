import { powerFromDb } from '../signal/decibels.ts';
import type { ChannelMeasurement } from './measurement.ts';
import { noiseFloorPower } from './noiseFloor.ts';

/** Part of a clip, in frames. */
export interface Stretch {
  startFrame: number;
  frames: number;
}

export interface Stretches {
  /** Where something is heard, spread evenly over the range; at most `MOST_ACTIVE`. */
  active: Stretch[];
  /** Where nobody speaks: only the noise of both channels. At most `MOST_PAUSES`. */
  pauses: Stretch[];
}

const MOST_ACTIVE = 24;
const MOST_PAUSES = 6;
const STRETCH_SECONDS = 0.34;
const STANDS_OUT = powerFromDb(10);
const NEAR_FLOOR = powerFromDb(3);

export interface StretchRange {
  sampleRate: number;
  blockSeconds: number;
  /** Blocks, from and up to. */
  from: number;
  to: number;
  /** Frames in the clip. */
  frames: number;
}

/**
 * Picks a bounded number of stretches to look at again. The range is cut into equal parts, and in each
 * the loudest stretch is taken, by turns of the left, the right and both sides, so that someone heard mostly on one
 * of them is not left out.
 */
export function chooseStretches(sides: [ChannelMeasurement, ChannelMeasurement], range: StretchRange): Stretches {
  const { sampleRate, blockSeconds, from, to } = range;
  const length = Math.round(STRETCH_SECONDS * sampleRate);
  const blocks = Math.max(1, Math.ceil(STRETCH_SECONDS / blockSeconds));
  const relative = sides.map(({ blockSpeechPower }) => {
    const floor = noiseFloorPower(blockSpeechPower) || Number.MIN_VALUE;
    return blockSpeechPower.map((power) => power / floor);
  });
  const steady = !relative.some((ratios) => ratios.subarray(from, to).some((ratio) => ratio > STANDS_OUT));
  const loudness = [
    (i: number) => relative[0][i], (i: number) => relative[1][i], (i: number) => Math.min(relative[0][i], relative[1][i]),
  ];
  const stretchAt = (block: number): Stretch => {
    const startFrame = Math.round(block * blockSeconds * sampleRate);
    return { startFrame, frames: Math.min(length, range.frames - startFrame) };
  };
  const starts = (parts: number, score: (block: number, part: number) => number, least: number): Stretch[] => {
    const found: Stretch[] = [];
    for (let part = 0; part < parts; part++) {
      const first = from + Math.floor((part * (to - from)) / parts);
      const last = Math.max(first + 1, from + Math.floor(((part + 1) * (to - from)) / parts) - blocks + 1);
      let best = first;
      for (let block = first + 1; block < last; block++) if (score(block, part) > score(best, part)) best = block;
      if (score(best, part) >= least) found.push(stretchAt(best));
    }
    return found;
  };
  const sum = (block: number, of: (i: number) => number): number => {
    let total = 0;
    for (let i = block; i < Math.min(block + blocks, to); i++) total += of(i);
    return total / blocks;
  };
  const count = to - from;
  const quietest = (block: number): number => {
    let worst = 0;
    for (let i = block; i < Math.min(block + blocks, to); i++) worst = Math.max(worst, relative[0][i], relative[1][i]);
    const silent = sides.some(({ blockSpeechPower }) => blockSpeechPower[block] === 0);
    return silent ? -Infinity : -worst;
  };
  return {
    active: starts(clampParts(count, blocks, MOST_ACTIVE), (block, part) => sum(block, loudness[part % 3]), steady ? 0 : STANDS_OUT),
    pauses: steady ? [] : starts(clampParts(count, 4 * blocks, MOST_PAUSES), quietest, -NEAR_FLOOR),
  };
}

function clampParts(count: number, blocks: number, most: number): number {
  return Math.max(1, Math.min(most, Math.floor(count / blocks)));
}
