import { bucketFrames, JOINT_LEVEL, laneCount, LEVEL_STEP, VALUES_PER_LANE } from './outline.ts';

/** Takes finished buckets of a level, in order: one or more of them. The array is only valid during the call. */
export type BucketSink = (level: number, values: Float32Array) => void;

/** Building one more level than needed costs a quarter of nothing; this covers a week at 192 kHz. */
const LEVELS = 16;

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
  private readonly width: number;
  private readonly levels: Level[];
  private rounded = new Float32Array();
  private readonly joint: JointBuckets[] = [];

  /** @param handsOver whether the levels from `JOINT_LEVEL` up are left to another builder, which takes `jointBuckets` */
  constructor(
    channels: number,
    private readonly sink: BucketSink,
    private readonly handsOver = false,
  ) {
    this.width = laneCount(channels) * VALUES_PER_LANE;
    this.levels = Array.from({ length: LEVELS }, () => ({
      values: new Float64Array(this.width),
      filled: 0,
      frames: 0,
    }));
  }

  /**
   * Takes finished buckets of the finest level, as the meter makes them: most of the work is here.
   * @param values for each bucket and lane minimum, maximum and sum of squares
   * @param framesInLast less than a whole bucket only at the end of the clip
   */
  readonly push = (values: Float64Array, buckets: number, framesInLast: number): void =>
    this.take(0, values, buckets, framesInLast);

  /** Goes on where this builder's own part of the clip ended, which was with a whole bucket of the joint level. */
  continueWith({ values, framesInLast }: JointBuckets): void {
    if (values.length > 0) this.take(JOINT_LEVEL, values, values.length / this.width, framesInLast);
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

  /** Closes what is open on every level above the finest. */
  finish(): void {
    this.levels.forEach((level, l) => {
      const { filled, frames } = level;
      level.filled = 0;
      level.frames = 0;
      if (filled > 0) this.take(l, level.values.subarray(0, this.width), 1, frames);
    });
  }

  private take(level: number, values: Float64Array, buckets: number, framesInLast: number): void {
    if (this.handsOver && level === JOINT_LEVEL) {
      this.joint.push({ values: values.slice(), framesInLast });
      return;
    }
    this.emit(level, values, buckets, framesInLast);
    if (level + 1 < LEVELS) this.merge(level, values, buckets, framesInLast);
  }

  private emit(level: number, values: Float64Array, buckets: number, framesInLast: number): void {
    const count = buckets * this.width;
    if (this.rounded.length < count) this.rounded = new Float32Array(count);
    const { rounded } = this;
    const whole = bucketFrames(level);
    for (let i = 0; i < count; i += VALUES_PER_LANE) {
      const frames = i < count - this.width ? whole : framesInLast;
      rounded[i] = values[i];
      rounded[i + 1] = values[i + 1];
      rounded[i + 2] = Math.sqrt(values[i + 2] / frames);
    }
    this.sink(level, rounded.subarray(0, count));
  }

  /** Merges buckets of a level into those of the level above, and takes what is whole there. */
  private merge(level: number, values: Float64Array, buckets: number, framesInLast: number): void {
    const { width } = this;
    const above = this.levels[level + 1];
    const room = (Math.floor((above.filled + buckets) / LEVEL_STEP) + 1) * width;
    if (above.values.length < room) {
      const open = above.values;
      above.values = new Float64Array(room);
      above.values.set(open.subarray(0, width));
    }
    const merged = above.values;
    let at = 0;
    for (let from = 0; from < buckets * width; from += width) {
      if (above.filled === 0) for (let i = 0; i < width; i++) merged[at + i] = values[from + i];
      else {
        for (let i = 0; i < width; i += VALUES_PER_LANE) {
          if (values[from + i] < merged[at + i]) merged[at + i] = values[from + i];
          if (values[from + i + 1] > merged[at + i + 1]) merged[at + i + 1] = values[from + i + 1];
          merged[at + i + 2] += values[from + i + 2];
        }
      }
      if (++above.filled < LEVEL_STEP) continue;
      above.filled = 0;
      at += width;
    }
    const whole = bucketFrames(level);
    const missing = whole - framesInLast;
    above.frames = above.filled * whole - (above.filled > 0 ? missing : 0);
    if (at === 0) return;
    this.take(level + 1, merged.subarray(0, at), at / width, LEVEL_STEP * whole - (above.filled > 0 ? 0 : missing));
    merged.copyWithin(0, at, at + width);
  }
}
