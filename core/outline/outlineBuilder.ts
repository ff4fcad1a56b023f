import { BASE_BUCKET_FRAMES, laneCount, LEVEL_STEP, VALUES_PER_LANE } from './outline.ts';

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

/** Builds the outline's levels in one pass; whole buckets leave through the sink at once. */
export class OutlineBuilder {
  private readonly width: number;
  private readonly levels: Level[];
  private readonly finished: Float32Array;
  private finest: Float32Array;

  constructor(channels: number, private readonly sink: BucketSink) {
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
  readonly push = (values: Float64Array, buckets: number, framesInLast: number): void => {
    const { width } = this;
    const above = this.levels[1];
    if (this.finest.length < buckets * width) this.finest = new Float32Array(buckets * width);
    for (let b = 0, first = 0; b < buckets; b++, first += width) {
      const frames = b === buckets - 1 ? framesInLast : BASE_BUCKET_FRAMES;
      for (let i = 0; i < width; i += VALUES_PER_LANE) {
        const [smallest, largest, squares] = [values[first + i], values[first + i + 1], values[first + i + 2]];
        this.finest[first + i] = smallest;
        this.finest[first + i + 1] = largest;
        this.finest[first + i + 2] = Math.sqrt(squares / frames);
        if (smallest < above.values[i]) above.values[i] = smallest;
        if (largest > above.values[i + 1]) above.values[i + 1] = largest;
        above.values[i + 2] += squares;
      }
      above.frames += frames;
      if (++above.filled === LEVEL_STEP) this.close(1);
    }
    this.sink(0, this.finest.subarray(0, buckets * width));
  };

  /** Closes what is open on every level above the finest. */
  finish(): void {
    for (let level = 1; level < LEVELS; level++) {
      if (this.levels[level].frames > 0) this.close(level);
    }
  }

  private close(level: number): void {
    const { values, frames } = this.levels[level];
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
