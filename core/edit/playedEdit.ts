// Both edits played through without a speaker: how loud each side is from moment to moment, every recording's channels straight.

/** A stretch of a file as it sounds in the film. */
export interface PlayedStretch {
  recordStartSeconds: number;
  recordEndSeconds: number;
  /** Where in the file it begins, from its first sample. */
  mediaStartSeconds: number;
  speed: number;
  blockSeconds: number;
  /** The mean square of each block, of the channels that count. */
  channels: readonly { block: Float64Array; side: 'left' | 'right' | 'both' }[];
}

export interface PlayedMoments {
  left: Float64Array;
  right: Float64Array;
}

export const MOMENT_SECONDS = 0.1;
// Below this nobody hears anything in a room; chosen.
const SOUND_POWER = 10 ** (-60 / 10);
// So much lower than it was, sound is gone; chosen.
const GONE = 10 ** (-40 / 10);
// Sides further apart than before by this are balanced otherwise; chosen, above what a coder does.
const BALANCE_DB = 1.5;

/** @param endSeconds of the film, from its start */
export function playThrough(
  stretches: readonly PlayedStretch[],
  startSeconds: number,
  endSeconds: number,
): PlayedMoments {
  const count = Math.max(0, Math.ceil((endSeconds - startSeconds) / MOMENT_SECONDS));
  const left = new Float64Array(count);
  const right = new Float64Array(count);
  for (const stretch of stretches) {
    const first = Math.max(0, Math.ceil((stretch.recordStartSeconds - startSeconds) / MOMENT_SECONDS - 0.5));
    for (let i = first; i < count; i++) {
      const middle = startSeconds + (i + 0.5) * MOMENT_SECONDS;
      if (middle >= stretch.recordEndSeconds) break;
      const at = stretch.mediaStartSeconds + (middle - stretch.recordStartSeconds) * stretch.speed;
      const block = Math.floor(at / stretch.blockSeconds);
      for (const { block: powers, side } of stretch.channels) {
        const power = powers[block] ?? 0;
        if (side !== 'right') left[i] += power;
        if (side !== 'left') right[i] += power;
      }
    }
  }
  return { left, right };
}

/** Moments in which the one edit sounds and the other does not; its neighbours speak for one whose blocks lie otherwise. */
export function silencedMoments(before: PlayedMoments, after: PlayedMoments): number[] {
  const now = sums(after);
  return [...sums(before).entries()].flatMap(([i, power]) => {
    const near = Math.max(now[i] ?? 0, now[i - 1] ?? 0, now[i + 1] ?? 0);
    return power > SOUND_POWER && near < power * GONE ? [i] : [];
  });
}

/** Moments in which both sound and the sides are further apart, or nearer, than they were. */
export function rebalancedMoments(before: PlayedMoments, after: PlayedMoments): number[] {
  return [...before.left.keys()].filter((i) => {
    if (Math.min(power(before, i), power(after, i)) < SOUND_POWER) return false;
    return Math.abs(balanceDb(before, i) - balanceDb(after, i)) > BALANCE_DB;
  });
}

export function soundingMoments(moments: PlayedMoments): number {
  return sums(moments).reduce((count, sum) => count + (sum > SOUND_POWER ? 1 : 0), 0);
}

function sums({ left, right }: PlayedMoments): Float64Array {
  return left.map((value, i) => value + right[i]);
}

function power({ left, right }: PlayedMoments, i: number): number {
  return left[i] + right[i];
}

/** What is under the threshold of sound counts as that: a side's hiss has no balance. */
function balanceDb({ left, right }: PlayedMoments, i: number): number {
  return 10 * Math.log10(Math.max(left[i], SOUND_POWER) / Math.max(right[i], SOUND_POWER));
}
