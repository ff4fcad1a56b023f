import { MOST_BLOCKS_A_RUN } from '../../kernels/blockMeter.ts';
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

// So much of what is left is given away: whoever takes it is done first, and may take more.
const GIVEN_SHARE = 0.4;

/**
 * Gives some of what is left of a part away while it is measured from its start on.
 * @param part its end is known; it ends at the cut from now on @param doneFrames how far into the clip it is
 * @param gridFrames the outline is cut at a multiple of this
 * @returns what comes after the cut; null where so little is left that the cut might lie in what is read already
 */
export function cutAway(part: ClipPart, doneFrames: number, sampleRate: number, gridFrames: number): ClipPart | null {
  const block = blockLength(sampleRate);
  const left = part.endFrame - doneFrames;
  // A run may have been read and not yet measured; the grid may move the cut by half of itself.
  if (left < 2 * gridFrames + 2 * MOST_BLOCKS_A_RUN * block) return null;
  const bucketCut = Math.round((part.endFrame - GIVEN_SHARE * left) / gridFrames) * gridFrames;
  const cut = Math.ceil(bucketCut / block) * block;
  const readFrame = cut - SETTLING_BLOCKS * block;
  if (readFrame < 0) return null;
  const later = { ...part, readFrame, startFrame: cut, bucketsStartFrame: bucketCut };
  Object.assign(part, { endFrame: cut, endsClip: false, bucketsEndFrame: bucketCut });
  return later;
}
