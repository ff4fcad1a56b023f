import { instantiateKernel } from '../kernels/instantiateKernel.ts';
import { giveBack, memoryFor } from '../kernels/kernelMemory.ts';
import { outlineBucketsWasm } from '../kernels/outlineBuckets.wasm.ts';
import { bucketFrames, JOINT_LEVEL, laneCount, LEVEL_STEP, VALUES_PER_LANE } from './outline.ts';

/** Takes finished buckets of a level, in order: one or more of them. The array is only valid during the call. */
export type BucketSink = (level: number, values: Float32Array) => void;

/** Building one more level than needed costs a quarter of nothing; this covers a week at 192 kHz. */
const LEVELS = 16;

/** Buckets that are taken at once. */
const MOST_BUCKETS = 256;

interface OutlineBucketsExports {
  roundBuckets(buckets: number, count: number, lanes: number, frames: number, framesInLast: number, out: number): void;
  mergeBuckets(buckets: number, count: number, lanes: number, step: number, filled: number, merged: number): number;
}

/** Buckets of one level that are being made out of those of the level below: whole ones, and one that is still open. */
interface Level {
  /** minimum, maximum, sum of squares for each lane of each */
  values: Float64Array;
  /** Buckets of the level below in the open one, and their frames. */
  filled: number;
  frames: number;
}

/** Buckets of `JOINT_LEVEL`, from one builder to another: minimum, maximum, sum of squares for each lane. */
export interface JointBuckets {
  values: Float64Array;
  framesInLast: number;
}

/** Builds the outline's levels in one pass; whole buckets leave through the sink at once. */
export class OutlineBuilder {
  private readonly lanes: number;
  private readonly width: number;
  private readonly kernel: OutlineBucketsExports;
  private readonly memory: WebAssembly.Memory;
  private readonly input: Float64Array;
  private readonly levels: Level[];
  private readonly rounded: Float32Array;
  private readonly joint: JointBuckets[] = [];

  /** @param handsOver whether the levels from `JOINT_LEVEL` up are left to another builder, which takes `jointBuckets` */
  constructor(
    channels: number,
    private readonly sink: BucketSink,
    private readonly handsOver = false,
  ) {
    this.lanes = laneCount(channels);
    this.width = this.lanes * VALUES_PER_LANE;
    const most = MOST_BUCKETS * this.width;
    // Whole ones, and the open one.
    const above = (MOST_BUCKETS / LEVEL_STEP + 1) * this.width;
    const { memory, places } = memoryFor([most, most / 2, ...Array.from({ length: LEVELS }, () => above)]);
    this.memory = memory;
    const [input, rounded, ...levels] = places;
    this.input = input;
    this.rounded = new Float32Array(memory.buffer, rounded.byteOffset, most);
    this.levels = levels.map((values) => ({ values, filled: 0, frames: 0 }));
    this.kernel = instantiateKernel<OutlineBucketsExports>(outlineBucketsWasm, memory);
  }

  /**
   * Takes finished buckets of the finest level, as the meter makes them: most of the work is here.
   * @param values for each bucket and lane minimum, maximum and sum of squares
   * @param framesInLast less than a whole bucket only at the end of the clip
   */
  readonly push = (values: Float64Array, buckets: number, framesInLast: number): void =>
    this.bring(0, values, buckets, framesInLast);

  /** Goes on where this builder's own part of the clip ended, which was with a whole bucket of the joint level. */
  continueWith({ values, framesInLast }: JointBuckets): void {
    this.bring(JOINT_LEVEL, values, values.length / this.width, framesInLast);
  }

  /** After `finish`, what the other builder goes on with. */
  jointBuckets(): JointBuckets {
    const values = new Float64Array(this.joint.reduce((length, part) => length + part.values.length, 0));
    let at = 0;
    for (const part of this.joint) {
      values.set(part.values, at);
      at += part.values.length;
    }
    return { values, framesInLast: this.joint.at(-1)?.framesInLast ?? 0 };
  }

  /** Closes what is open on every level above the finest. Nothing is pushed afterwards. */
  finish(): void {
    this.levels.forEach((level, l) => {
      const { filled, frames } = level;
      level.filled = 0;
      level.frames = 0;
      if (filled > 0) this.take(l, level.values, 1, frames);
    });
    giveBack(this.memory);
  }

  private bring(level: number, values: Float64Array, buckets: number, framesInLast: number): void {
    for (let start = 0; start < buckets; start += MOST_BUCKETS) {
      const end = Math.min(start + MOST_BUCKETS, buckets);
      this.input.set(values.subarray(start * this.width, end * this.width));
      this.take(level, this.input, end - start, end === buckets ? framesInLast : bucketFrames(level));
    }
  }

  /** @param values in the kernel's memory */
  private take(level: number, values: Float64Array, buckets: number, framesInLast: number): void {
    if (this.handsOver && level === JOINT_LEVEL) {
      this.joint.push({ values: values.slice(0, buckets * this.width), framesInLast });
      return;
    }
    const { kernel, lanes, rounded } = this;
    kernel.roundBuckets(values.byteOffset, buckets, lanes, bucketFrames(level), framesInLast, rounded.byteOffset);
    this.sink(level, rounded.subarray(0, buckets * this.width));
    if (level + 1 < LEVELS) this.merge(level, values, buckets, framesInLast);
  }

  /** Merges buckets of a level into those of the level above, and takes what is whole there. */
  private merge(level: number, values: Float64Array, buckets: number, framesInLast: number): void {
    const above = this.levels[level + 1];
    const merged = above.values;
    const count = Math.floor((above.filled + buckets) / LEVEL_STEP);
    above.filled = this.kernel.mergeBuckets(
      values.byteOffset,
      buckets,
      this.lanes,
      LEVEL_STEP,
      above.filled,
      merged.byteOffset,
    );
    const whole = bucketFrames(level);
    const missing = whole - framesInLast;
    above.frames = above.filled * whole - (above.filled > 0 ? missing : 0);
    if (count === 0) return;
    this.take(level + 1, merged, count, LEVEL_STEP * whole - (above.filled > 0 ? 0 : missing));
    merged.copyWithin(0, count * this.width, (count + 1) * this.width);
  }
}
