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
// What is read is measured a moment later: an eighth of a megabyte, a tenth of a second of 64 channels.
const READ_AHEAD_BLOCKS = 10;

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
 * @returns the later part; null where so little is left that the cut might lie in what is read already. See `twoParts` for the others
 */
export function cutAway(
  part: ClipPart,
  doneFrames: number,
  frames: number,
  sampleRate: number,
  gridFrames: number,
): ClipPart | null {
  // The grid may move the cut by half of itself.
  if (frames - doneFrames < gridFrames + 2 * READ_AHEAD_BLOCKS * blockLength(sampleRate)) return null;
  const [first, later] = twoParts(frames, sampleRate, (1 + doneFrames / frames) / 2, gridFrames);
  if (later.readFrame < 0) return null;
  Object.assign(part, first);
  return later;
}
