import { leaveAsItIs } from '../plan/plans.ts';
import { Router } from './router.ts';
import type { Repair, RepairOutput } from '../../schema/repair.ts';

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

type Sides = [Float32Array, Float32Array];
const newSides = (): Sides => [new Float32Array(LARGEST_BLOCK), new Float32Array(LARGEST_BLOCK)];

/** A clip as it is and as one repair makes it, in step to the sample. */
class Stage {
  readonly before: Router;
  readonly after: Router;
  private readonly recorded: RepairOutput[];
  private readonly beforeOut: Float32Array[];
  private readonly afterOut: Float32Array[];
  readonly sides = newSides();
  private readonly afterSides = newSides();

  constructor(
    channels: number,
    private readonly repair: Repair,
  ) {
    this.recorded = leaveAsItIs(channels).outputs;
    this.after = new Router({ ...repair, level: null });
    // The untouched side waits for as long as the repaired one takes.
    const wait = Array.from({ length: channels }, (_, i) => ({
      channel: i + 1,
      gainDb: 0,
      polarity: 'normal' as const,
      delaySamples: this.after.latencyFrames,
    }));
    this.before = new Router({ ...leaveAsItIs(channels), trims: this.after.latencyFrames > 0 ? wait : [] });
    const blocks = (count: number): Float32Array[] =>
      Array.from({ length: count }, () => new Float32Array(LARGEST_BLOCK));
    this.beforeOut = blocks(this.before.outputChannels);
    this.afterOut = blocks(this.after.outputChannels);
  }

  /** Fills `sides`; `afterShares[i]` is how much of frame i is the repaired one. */
  process(startFrame: number, inputs: readonly Float32Array[], frames: number, afterShares: Float32Array): void {
    this.before.process(startFrame, inputs, this.beforeOut, frames);
    this.after.process(startFrame, inputs, this.afterOut, frames);
    toSides(this.beforeOut, this.recorded, this.sides, frames);
    toSides(this.afterOut, this.repair.outputs, this.afterSides, frames);
    for (let side = 0; side < 2; side++) {
      const mine = this.sides[side];
      const repaired = this.afterSides[side];
      for (let i = 0; i < frames; i++) mine[i] += (repaired[i] - mine[i]) * afterShares[i];
    }
  }
}

/**
 * What a person hears: the clip before or after its repair, and which side of it. A switch, and every change of the repair, is a short fade at
 * the same place.
 */
export class Listening {
  /** Left and right, before any choice of side: what the meters show. */
  readonly sides: Sides = newSides();
  private stage: Stage;
  /** What gives way to the stage, and for how many more frames. */
  private leaving: Stage | null = null;
  private leavingFrames = 0;
  /** Changed again while one gives way to the other. */
  private next: Repair | null = null;
  private afterShare = 0;
  private readonly afterShares = new Float32Array(LARGEST_BLOCK);
  private readonly weights = new Float64Array(MATRIX.both);
  private heardAny = false;

  constructor(private readonly channels: number) {
    this.stage = new Stage(channels, leaveAsItIs(channels));
  }

  /** How much later than the input this sounds, in frames. */
  get latencyFrames(): number {
    return this.stage.after.latencyFrames;
  }

  /** How far back in the input what is heard from a frame of it on may reach. */
  memoryFramesAt(startFrame: number): number {
    return Math.max(...[this.stage.before, this.stage.after].map((router) => router.memoryFramesAt(startFrame)));
  }

  /** From the next block on, fading over; a stage that has been heard before its memory was filled (`runIn`) begins with a gap. */
  setRepair(repair: Repair): void {
    if (this.leaving) {
      this.next = repair;
      return;
    }
    if (this.heardAny) {
      this.leaving = this.stage;
      this.leavingFrames = FADE_FRAMES;
    }
    this.stage = new Stage(this.channels, repair);
  }

  /** Gives the newest stage what lies before what is heard next, without a sound. @param frames at most 128 */
  runIn(startFrame: number, inputs: readonly Float32Array[], frames: number): void {
    this.stage.process(startFrame, inputs, frames, this.afterShares);
  }

  /**
   * @param startFrame where in the clip the inputs begin
   * @param frames at most 128
   * @returns whether a repair that waited its turn came in, which has no memory yet
   */
  process(
    startFrame: number,
    inputs: readonly Float32Array[],
    speakers: readonly [Float32Array, Float32Array],
    frames: number,
    when: When,
    heard: Heard,
  ): boolean {
    this.heardAny = true;
    const shareTarget = when === 'after' ? 1 : 0;
    for (let i = 0; i < frames; i++) {
      this.afterShare = approach(this.afterShare, shareTarget);
      this.afterShares[i] = this.afterShare;
    }
    this.stage.process(startFrame, inputs, frames, this.afterShares);
    this.sides[0].set(this.stage.sides[0]);
    this.sides[1].set(this.stage.sides[1]);
    if (this.leaving) this.fadeFrom(this.leaving, startFrame, inputs, frames);
    const target = MATRIX[heard];
    const { weights, sides } = this;
    for (let i = 0; i < frames; i++) {
      for (let k = 0; k < 4; k++) weights[k] = approach(weights[k], target[k]);
      const left = sides[0][i];
      const right = sides[1][i];
      speakers[0][i] = weights[0] * left + weights[1] * right;
      speakers[1][i] = weights[2] * left + weights[3] * right;
    }
    const { next } = this;
    if (this.leaving || !next) return false;
    this.next = null;
    this.setRepair(next);
    return true;
  }

  private fadeFrom(leaving: Stage, startFrame: number, inputs: readonly Float32Array[], frames: number): void {
    leaving.process(startFrame, inputs, frames, this.afterShares);
    for (let i = 0; i < frames; i++) {
      const share = Math.max(0, this.leavingFrames - i) / FADE_FRAMES;
      for (let side = 0; side < 2; side++)
        this.sides[side][i] += (leaving.sides[side][i] - this.sides[side][i]) * share;
    }
    this.leavingFrames -= frames;
    if (this.leavingFrames <= 0) this.leaving = null;
  }
}

// What each side gets of centre and surround when 5.1 is folded to stereo; the low-frequency channel is left out (ITU-R BS.775-4, annex 4).
const FOLD = Math.SQRT1_2;

/** A mono file plays from both speakers, a stereo file from its own, 5.1 is folded to them; of other channels the first two. Several files add up. */
function toSides(
  channels: readonly Float32Array[],
  files: readonly RepairOutput[],
  sides: readonly [Float32Array, Float32Array],
  frames: number,
): void {
  sides[0].fill(0, 0, frames);
  sides[1].fill(0, 0, frames);
  let first = 0;
  for (const { routes, layout } of files) {
    const [left, right = left, centre, , ...surrounds] = channels.slice(first, first + routes.length);
    for (let i = 0; i < frames; i++) {
      sides[0][i] += left[i];
      sides[1][i] += right[i];
    }
    if (layout === '5.1')
      for (let i = 0; i < frames; i++)
        for (const side of [0, 1]) sides[side][i] += FOLD * (centre[i] + surrounds[side][i]);
    first += routes.length;
  }
}

function approach(value: number, target: number): number {
  const step = 1 / FADE_FRAMES;
  if (Math.abs(target - value) <= step) return target;
  return target > value ? value + step : value - step;
}
