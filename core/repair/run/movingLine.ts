import type { DelayCourse } from '../../schema/repair.ts';
import { HALF_TAPS, TapTable } from '../../signal/interpolationTaps.ts';

const TAPS = 2 * HALF_TAPS;
// Between two neighbouring rows a straight line is right to under -140 dB: its error is an eighth of a step, squared, times the bend of the taps.
const STEPS = 1024;
// What comes after a jump and what came before give way to each other over this long.
const JUMP_FADE_FRAMES = 256;
// What is kept of the past beyond what the next block needs, so that it need not grow with every block.
const SPARE_FRAMES = 4096;

/**
 * Delays one channel by what changes in time, block by block: a straight line, and at most one jump. Interpolated by a windowed sinc whose place
 * is right for each sample.
 */
export class MovingLine {
  /** What was given last ends at `end`; before it stands as much as still counts, and silence where nothing was given. */
  private given = new Float64Array(0);
  private end = 0;

  /** @param latencyFrames by how much the output lags behind the input; with the delay never less than a tap set's half */
  constructor(
    private readonly latencyFrames: number,
    private readonly delaySamples: number,
    private readonly course: DelayCourse,
  ) {}

  /** How many samples before a frame count for it and what follows. @param heardFrame of the clip as it is written */
  memoryFramesAt(heardFrame: number): number {
    return Math.max(0, Math.ceil(this.longestLag(heardFrame, heardFrame + SPARE_FRAMES)) + TAPS);
  }

  clear(): void {
    this.given.fill(0);
  }

  /** Takes the next samples and gives the delayed ones. @param heardFrame the first of them, in the clip as it is written */
  process(samples: Float32Array | Float64Array, delayed: Float64Array, heardFrame: number, frames: number): void {
    this.makeRoom(this.memoryFramesAt(heardFrame), frames);
    const { given, end } = this;
    given.set(samples.length === frames ? samples : samples.subarray(0, frames), end);
    const { jump } = this.course;
    const jumpAt = jump ? jump.atFrame - heardFrame : Infinity;
    for (let i = 0; i < frames; i++) {
      const lag = this.lagBeforeJump(heardFrame + i);
      if (i < jumpAt) delayed[i] = valueAt(given, end + i - lag);
      else {
        const share = Math.min(1, (i - jumpAt + 0.5) / JUMP_FADE_FRAMES);
        const after = valueAt(given, end + i - this.keptBack(lag + jump!.samples));
        delayed[i] = share === 1 ? after : after * share + valueAt(given, end + i - lag) * (1 - share);
      }
    }
    this.end += frames;
  }

  /** Room for the next samples, with so many before them. Moved only now and then: a sound card waits for nobody. */
  private makeRoom(before: number, frames: number): void {
    if (this.end >= before && this.end + frames <= this.given.length) return;
    const kept = Math.min(before, this.end);
    const old = this.given;
    if (before + frames > old.length) this.given = new Float64Array(before + Math.max(SPARE_FRAMES, 4 * frames));
    this.given.set(old.subarray(this.end - kept, this.end), before - kept);
    this.given.fill(0, 0, before - kept);
    this.end = before;
  }

  private lagBeforeJump(heardFrame: number): number {
    return this.keptBack(this.latencyFrames + this.delaySamples + this.course.driftPpm * 1e-6 * heardFrame);
  }

  /** Nothing comes before it is there. */
  private keptBack(lag: number): number {
    return Math.max(HALF_TAPS, lag);
  }

  /** What a jump reaches back to must be there when it comes, wherever it lies. */
  private longestLag(startFrame: number, endFrame: number): number {
    const lag = Math.max(this.lagBeforeJump(startFrame), this.lagBeforeJump(endFrame));
    return lag + Math.max(0, this.course.jump?.samples ?? 0);
  }
}

const TABLE = new TapTable(STEPS);

/** The sound between samples. @param at at least HALF_TAPS from either end */
function valueAt(sound: Float64Array, at: number): number {
  const whole = Math.floor(at);
  const place = (at - whole) * STEPS;
  const row = Math.floor(place);
  const taps = TABLE.at(row);
  const nextTaps = TABLE.at(row + 1);
  const first = whole - HALF_TAPS + 1;
  let sum = 0;
  let next = 0;
  for (let k = 0; k < taps.length; k++) {
    const sample = sound[first + k];
    sum += taps[k] * sample;
    next += nextTaps[k] * sample;
  }
  return sum + (place - row) * (next - sum);
}
