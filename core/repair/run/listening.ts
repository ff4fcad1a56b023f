import { leaveAsItIs } from '../plan/plans.ts';
import { Router } from './router.ts';
import type { Repair } from '../../schema/repair.ts';

export type Heard = 'both' | 'left' | 'right' | 'sum' | 'difference';
export type When = 'before' | 'after';

/** What each speaker gets of the left and right side: [left from L, left from R, right from L, right from R]. */
const MATRIX: Record<Heard, readonly [number, number, number, number]> = {
  both: [1, 0, 0, 1],
  left: [1, 0, 1, 0],
  right: [0, 1, 0, 1],
  sum: [0.5, 0.5, 0.5, 0.5],
  difference: [0.5, -0.5, 0.5, -0.5],
};

// Long enough not to click, short enough to feel immediate.
const FADE_FRAMES = 256;
const LARGEST_BLOCK = 128;

/**
 * What a person hears: the clip before or after its repair, and which side of it. Both are
 * always computed, in step to the sample, so a switch is a short fade at the same place.
 */
export class Listening {
  private before: Router;
  private after: Router;
  private beforeOut: Float32Array[] = [];
  private afterOut: Float32Array[] = [];
  /** Left and right, before any choice of side: what the meters show. */
  readonly sides: [Float32Array, Float32Array] = [new Float32Array(LARGEST_BLOCK), new Float32Array(LARGEST_BLOCK)];
  private readonly afterSides: [Float32Array, Float32Array] = [
    new Float32Array(LARGEST_BLOCK),
    new Float32Array(LARGEST_BLOCK),
  ];
  private afterShare = 0;
  private readonly weights = new Float64Array(MATRIX.both);

  private repair: Repair;

  constructor(private readonly channels: number) {
    this.repair = leaveAsItIs(channels);
    this.before = new Router(this.repair);
    this.after = new Router(this.repair);
    this.allocate();
  }

  /** How much later than the input this sounds, in frames. */
  get latencyFrames(): number {
    return this.after.latencyFrames;
  }

  setRepair(repair: Repair): void {
    this.repair = repair;
    this.after = new Router({ ...repair, level: null });
    // The untouched side waits for as long as the repaired one takes.
    const wait = Array.from({ length: this.channels }, (_, i) => ({
      channel: i + 1,
      gainDb: 0,
      polarity: 'normal' as const,
      delaySamples: this.after.latencyFrames,
    }));
    this.before = new Router({ ...leaveAsItIs(this.channels), trims: this.after.latencyFrames > 0 ? wait : [] });
    this.allocate();
  }

  /** @param startFrame where in the clip the inputs begin
   * @param frames at most 128 */
  process(
    startFrame: number,
    inputs: readonly Float32Array[],
    speakers: readonly [Float32Array, Float32Array],
    frames: number,
    when: When,
    heard: Heard,
  ): void {
    this.before.process(startFrame, inputs, this.beforeOut, frames);
    this.after.process(startFrame, inputs, this.afterOut, frames);
    toSides(this.beforeOut, [this.channels], this.sides, frames);
    toSides(
      this.afterOut,
      this.repair.outputs.map((output) => output.routes.length),
      this.afterSides,
      frames,
    );
    const target = MATRIX[heard];
    const shareTarget = when === 'after' ? 1 : 0;
    const { weights } = this;
    for (let i = 0; i < frames; i++) {
      this.afterShare = approach(this.afterShare, shareTarget);
      for (let k = 0; k < 4; k++) weights[k] = approach(weights[k], target[k]);
      for (let side = 0; side < 2; side++) {
        this.sides[side][i] += (this.afterSides[side][i] - this.sides[side][i]) * this.afterShare;
      }
      const [left, right] = [this.sides[0][i], this.sides[1][i]];
      speakers[0][i] = weights[0] * left + weights[1] * right;
      speakers[1][i] = weights[2] * left + weights[3] * right;
    }
  }

  private allocate(): void {
    const blocks = (count: number): Float32Array[] =>
      Array.from({ length: count }, () => new Float32Array(LARGEST_BLOCK));
    this.beforeOut = blocks(this.before.outputChannels);
    this.afterOut = blocks(this.after.outputChannels);
  }
}

/** A mono file plays from both speakers, a stereo file from its own; of more channels the first two. Several files add up. */
function toSides(
  channels: readonly Float32Array[],
  files: readonly number[],
  sides: readonly [Float32Array, Float32Array],
  frames: number,
): void {
  sides[0].fill(0, 0, frames);
  sides[1].fill(0, 0, frames);
  let first = 0;
  for (const width of files) {
    const left = channels[first];
    const right = channels[width > 1 ? first + 1 : first];
    for (let i = 0; i < frames; i++) {
      sides[0][i] += left[i];
      sides[1][i] += right[i];
    }
    first += width;
  }
}

function approach(value: number, target: number): number {
  const step = 1 / FADE_FRAMES;
  if (Math.abs(target - value) <= step) return target;
  return target > value ? value + step : value - step;
}
