import type { DelayCourse } from '../../schema/repair.ts';
import { HALF_TAPS, interpolationTaps } from '../../signal/interpolationTaps.ts';

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
  private history = new Float64Array(0);
  private reach = new Float64Array(0);

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
    this.history = new Float64Array(0);
  }

  /** Takes the next samples and gives the delayed ones. @param heardFrame the first of them, in the clip as it is written */
  process(samples: Float32Array | Float64Array, delayed: Float64Array, heardFrame: number, frames: number): void {
    const needed = Math.ceil(this.longestLag(heardFrame, heardFrame + frames)) + TAPS;
    const { length } = this.history;
    const before = Math.max(length, needed);
    if (this.reach.length < before + frames) this.reach = new Float64Array(before + frames + SPARE_FRAMES);
    const { reach } = this;
    // What was never given is silence.
    reach.fill(0, 0, before - length);
    reach.set(this.history, before - length);
    reach.set(samples.length === frames ? samples : samples.subarray(0, frames), before);
    const jump = this.course.jump;
    const jumpAt = jump ? jump.atFrame - heardFrame : Infinity;
    for (let i = 0; i < frames; i++) {
      const lag = this.lagBeforeJump(heardFrame + i);
      if (i < jumpAt) delayed[i] = valueAt(reach, before + i - lag);
      else {
        const share = Math.min(1, (i - jumpAt + 0.5) / JUMP_FADE_FRAMES);
        const after = valueAt(reach, before + i - this.keptBack(lag + jump!.samples));
        delayed[i] = share === 1 ? after : after * share + valueAt(reach, before + i - lag) * (1 - share);
      }
    }
    const kept = Math.min(before + frames, this.memoryFramesAt(heardFrame + frames));
    this.history = reach.slice(before + frames - kept, before + frames);
  }

  private lagBeforeJump(heardFrame: number): number {
    return this.keptBack(this.latencyFrames + this.delaySamples + this.course.driftPpm * 1e-6 * heardFrame);
  }

  /** Nothing comes before it is there. */
  private keptBack(lag: number): number {
    return Math.max(HALF_TAPS, lag);
  }

  private longestLag(startFrame: number, endFrame: number): number {
    const lag = Math.max(this.lagBeforeJump(startFrame), this.lagBeforeJump(endFrame));
    const { jump } = this.course;
    return jump && endFrame > jump.atFrame ? Math.max(lag, lag + jump.samples) : lag;
  }
}

let table: Float64Array | null = null;

/** The sound between samples. @param at at least HALF_TAPS from either end */
function valueAt(sound: Float64Array, at: number): number {
  table ??= tapTable();
  const whole = Math.floor(at);
  const place = (at - whole) * STEPS;
  const row = Math.floor(place);
  const share = place - row;
  const taps = row * TAPS;
  const first = whole - HALF_TAPS + 1;
  let [sum, next] = [0, 0];
  for (let k = 0; k < TAPS; k++) {
    const sample = sound[first + k];
    sum += table[taps + k] * sample;
    next += table[taps + TAPS + k] * sample;
  }
  return sum + share * (next - sum);
}

/** Row by row the weights of the samples around a place, for each part of a sample after it; the last row is the first, one sample on. */
function tapTable(): Float64Array {
  const rows = new Float64Array((STEPS + 1) * TAPS);
  rows[HALF_TAPS - 1] = 1;
  for (let step = 1; step < STEPS; step++) rows.set(interpolationTaps(step / STEPS), step * TAPS);
  rows[STEPS * TAPS + HALF_TAPS] = 1;
  return rows;
}
