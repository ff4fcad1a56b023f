import { bucketFrames, JOINT_LEVEL, laneCount, LEVEL_STEP, VALUES_PER_LANE } from './outline.ts';

/** Takes finished buckets of a level, in order: one or more of them. The array is only valid during the call. */
export type BucketSink = (level: number, values: Float32Array) => void;

/** Building one more level than needed costs a quarter of nothing; this covers a week at 192 kHz. */
const LEVELS = 16;

interface Level {
  /** minimum, maximum, sum of squares for each lane */
  values: Float64Array;
  frames: number;
  filled: number;
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
  private readonly finished: Float32Array;
  private finest: Float32Array;
  private readonly joint: Level[] = [];

  /** @param handsOver whether the levels from `JOINT_LEVEL` up are left to another builder, which takes `jointBuckets` */
  constructor(channels: number, private readonly sink: BucketSink, private readonly handsOver = false) {
    this.width = laneCount(channels) * VALUES_PER_LANE;
    this.levels = Array.from({ length: LEVELS }, () => ({ values: new Float64Array(this.width), frames: 0, filled: 0 }));
    this.levels.forEach(reset);
    this.finished = new Float32Array(this.width);
    this.finest = new Float32Array(this.width);
  }

  /**
   * Takes finished buckets of the finest level, as the meter makes them: most of the work is here.
   * @param values for each bucket and lane minimum, maximum and sum of squares
   * @param framesInLast less than a whole bucket only at the end of the clip
   */
  readonly push = (values: Float64Array, buckets: number, framesInLast: number): void => this.take(0, values, buckets, framesInLast);

  /** Goes on where this builder's own part of the clip ended, which was with a whole bucket of the joint level. */
  continueWith({ values, framesInLast }: JointBuckets): void {
    this.take(JOINT_LEVEL, values, values.length / this.width, framesInLast);
  }

  /** After `finish`, what the other builder goes on with. */
  jointBuckets(): JointBuckets {
    const values = new Float64Array(this.joint.length * this.width);
    this.joint.forEach((bucket, b) => values.set(bucket.values, b * this.width));
    return { values, framesInLast: this.joint.at(-1)?.frames ?? 0 };
  }

  private take(level: number, values: Float64Array, buckets: number, framesInLast: number): void {
    const { width } = this;
    const above = this.levels[level + 1];
    const merged = above.values;
    const whole = bucketFrames(level);
    if (this.finest.length < buckets * width) this.finest = new Float32Array(buckets * width);
    const finest = this.finest;
    for (let b = 0, first = 0; b < buckets; b++, first += width) {
      const frames = b === buckets - 1 ? framesInLast : whole;
      for (let i = 0; i < width; i += VALUES_PER_LANE) {
        const smallest = values[first + i];
        const largest = values[first + i + 1];
        const squares = values[first + i + 2];
        finest[first + i] = smallest;
        finest[first + i + 1] = largest;
        finest[first + i + 2] = Math.sqrt(squares / frames);
        if (smallest < merged[i]) merged[i] = smallest;
        if (largest > merged[i + 1]) merged[i + 1] = largest;
        merged[i + 2] += squares;
      }
      above.frames += frames;
      if (++above.filled === LEVEL_STEP) this.close(level + 1);
    }
    this.sink(level, finest.subarray(0, buckets * width));
  }

  /** Closes what is open on every level above the finest. */
  finish(): void {
    for (let level = 1; level < LEVELS; level++) {
      if (this.levels[level].frames > 0) this.close(level);
    }
  }

  private close(level: number): void {
    const { values, frames } = this.levels[level];
    if (this.handsOver && level === JOINT_LEVEL) {
      this.joint.push({ values: values.slice(), frames, filled: 0 });
      reset(this.levels[level]);
      return;
    }
    for (let at = 0; at < values.length; at += VALUES_PER_LANE) {
      this.finished[at] = values[at];
      this.finished[at + 1] = values[at + 1];
      this.finished[at + 2] = Math.sqrt(values[at + 2] / frames);
    }
    this.sink(level, this.finished);
    if (level + 1 < LEVELS) {
      const above = this.levels[level + 1];
      merge(above.values, values);
      above.frames += frames;
      above.filled++;
      if (above.filled === LEVEL_STEP) this.close(level + 1);
    }
    reset(this.levels[level]);
  }
}

function reset(level: Level): void {
  for (let at = 0; at < level.values.length; at += 3) {
    level.values[at] = Infinity;
    level.values[at + 1] = -Infinity;
    level.values[at + 2] = 0;
  }
  level.frames = 0;
  level.filled = 0;
}

function merge(into: Float64Array, from: Float64Array): void {
  for (let at = 0; at < into.length; at += 3) {
    if (from[at] < into[at]) into[at] = from[at];
    if (from[at + 1] > into[at + 1]) into[at + 1] = from[at + 1];
    into[at + 2] += from[at + 2];
  }
}
