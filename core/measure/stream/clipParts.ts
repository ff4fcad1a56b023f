import { BLOCK_SECONDS } from '../measurement.ts';

/**
 * What one of several threads measures of a clip, in frames. Blocks and outline buckets lie on different grids, so each has its own cut.
 * Its end may come sooner while it is measured: `cutAway` leaves the rest to another thread.
 */
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

/**
 * Gives what is left of a clip away by halves, while its first part is measured from the start on.
 * @param part ends at the cut from now on @param doneFrames how far it is
 * @returns the later part; see `twoParts` for the others
 */
export function cutAway(
  part: ClipPart,
  doneFrames: number,
  frames: number,
  sampleRate: number,
  gridFrames: number,
): ClipPart {
  const [first, later] = twoParts(frames, sampleRate, (1 + doneFrames / frames) / 2, gridFrames);
  Object.assign(part, first);
  return later;
}
