import { BUCKET_FRAMES } from '../kernels/blockMeter.ts';

/**
 * The outline is the drawn shape of a clip at many zooms. A lane is a channel, or the difference
 * of a pair (channels in order first, then pairs in order). A bucket holds, for each lane,
 * the smallest and largest sample and the RMS over its frames, full scale at 1.
 */
/** Each level's bucket covers this many buckets of the level below. */
export const LEVEL_STEP = 4;
/** Where two threads outline a clip, the second hands this level's buckets to the first, which goes on from them. */
export const JOINT_LEVEL = 4;
/** Minimum, maximum, RMS. */
export const VALUES_PER_LANE = 3;

export interface OutlineShape {
  frames: number;
  lanes: number;
  /** Buckets a level, from the finest. The coarsest level fits on a small row. */
  bucketsPerLevel: number[];
}

export function laneCount(channels: number): number {
  return channels + Math.floor(channels / 2);
}

export function bucketFrames(level: number): number {
  return BUCKET_FRAMES * LEVEL_STEP ** level;
}

const COARSEST_BUCKETS = 256;

export function outlineShape(frames: number, channels: number): OutlineShape {
  const bucketsPerLevel = [Math.ceil(frames / BUCKET_FRAMES)];
  while (bucketsPerLevel[bucketsPerLevel.length - 1] > COARSEST_BUCKETS) {
    bucketsPerLevel.push(Math.ceil(bucketsPerLevel[bucketsPerLevel.length - 1] / LEVEL_STEP));
  }
  return { frames, lanes: laneCount(channels), bucketsPerLevel };
}
