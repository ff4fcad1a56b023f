import { BLOCK_SECONDS } from '../measurement.ts';

/** What one of several threads measures of a clip, in frames. Blocks and outline buckets lie on different grids, so each has its own cut. */
export interface ClipPart {
  /** Reading starts here, at a block's start: what comes before `startFrame` only settles the filters. */
  readFrame: number;
  startFrame: number;
  /** Where reading and measuring end. */
  endFrame: number;
  endsClip: boolean;
  /** Outline buckets of this part. */
  bucketsStartFrame: number;
  bucketsEndFrame: number;
}

// The slowest filter, the K-weighting's high-pass at 38 Hz, forgets what came before by 200 dB a tenth of a second.
const SETTLING_BLOCKS = 30;

export function wholeClip(frames = Infinity): ClipPart {
  return {
    readFrame: 0,
    startFrame: 0,
    endFrame: frames,
    endsClip: true,
    bucketsStartFrame: 0,
    bucketsEndFrame: Infinity,
  };
}

/** Frames in a block at a rate. */
export function blockLength(sampleRate: number): number {
  return Math.max(1, Math.round(sampleRate * BLOCK_SECONDS));
}

/**
 * A clip in two parts. It must last longer than the filters settle.
 * @param firstShare how much of it is the first part, about
 * @param gridFrames the outline is cut at a multiple of this
 */
export function twoParts(
  frames: number,
  sampleRate: number,
  firstShare: number,
  gridFrames: number,
): [ClipPart, ClipPart] {
  const block = blockLength(sampleRate);
  const bucketCut = Math.round((firstShare * frames) / gridFrames) * gridFrames;
  const cut = Math.ceil(bucketCut / block) * block;
  return [
    { ...wholeClip(cut), endsClip: false, bucketsEndFrame: bucketCut },
    { ...wholeClip(frames), readFrame: cut - SETTLING_BLOCKS * block, startFrame: cut, bucketsStartFrame: bucketCut },
  ];
}
