import { BASE_BUCKET_FRAMES, laneCount, LEVEL_STEP, VALUES_PER_LANE } from './outline.ts';

/** Takes finished buckets of a level, in order. The array is only valid during the call. */
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
  private readonly lanes: number;
  private readonly levels: Level[];
  private readonly finished: Float32Array;

  constructor(private readonly channels: number, private readonly sink: BucketSink) {
    this.lanes = laneCount(channels);
    this.levels = Array.from({ length: LEVELS }, () => ({ values: new Float64Array(this.lanes * 3), frames: 0, filled: 0 }));
    this.levels.forEach(reset);
    this.finished = new Float32Array(this.lanes * VALUES_PER_LANE);
  }

  push(planar: Float64Array[], frames: number): void {
    let start = 0;
    while (start < frames) {
      const base = this.levels[0];
      const count = Math.min(BASE_BUCKET_FRAMES - base.frames, frames - start);
      for (let c = 0; c < this.channels; c++) gather(base.values, c * 3, planar[c], start, start + count);
      for (let lane = this.channels; lane < this.lanes; lane++) {
        const left = 2 * (lane - this.channels);
        gatherDifference(base.values, lane * 3, planar[left], planar[left + 1], start, start + count);
      }
      base.frames += count;
      start += count;
      if (base.frames === BASE_BUCKET_FRAMES) this.close(0);
    }
  }

  /** Closes what is open on every level, finest first. */
  finish(): void {
    for (let level = 0; level < LEVELS; level++) {
      if (this.levels[level].frames > 0) this.close(level);
    }
  }

  private close(level: number): void {
    const { values, frames } = this.levels[level];
    for (let at = 0; at < values.length; at += 3) {
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

function gather(values: Float64Array, at: number, samples: Float64Array, start: number, end: number): void {
  let smallest = values[at];
  let largest = values[at + 1];
  let squares = 0;
  for (let i = start; i < end; i++) {
    const x = samples[i];
    if (x < smallest) smallest = x;
    if (x > largest) largest = x;
    squares += x * x;
  }
  values[at] = smallest;
  values[at + 1] = largest;
  values[at + 2] += squares;
}

function gatherDifference(
  values: Float64Array, at: number, left: Float64Array, right: Float64Array, start: number, end: number,
): void {
  let smallest = values[at];
  let largest = values[at + 1];
  let squares = 0;
  for (let i = start; i < end; i++) {
    const x = left[i] - right[i];
    if (x < smallest) smallest = x;
    if (x > largest) largest = x;
    squares += x * x;
  }
  values[at] = smallest;
  values[at + 1] = largest;
  values[at + 2] += squares;
}
