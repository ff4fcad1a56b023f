import { TRUE_PEAK_BOUND, TRUE_PEAK_PHASES, TRUE_PEAK_TAPS } from '../signal/truePeakFilter.ts';

const HISTORY = TRUE_PEAK_TAPS - 1;
const STRIDE = 64;

/**
 * True peak after ITU-R BS.1770-5, annex 2: the largest absolute value of the signal
 * interpolated four times. Only stretches whose samples are large enough to beat the
 * peak found so far are interpolated: the rest cannot change the answer.
 */
export class TruePeakMeter {
  private readonly phases = TRUE_PEAK_PHASES.map((taps) => Float64Array.from(taps));
  private readonly history = new Float64Array(HISTORY);
  private readonly window = new Float64Array(HISTORY + STRIDE);
  private largest = 0;

  push(samples: Float64Array, frames: number): void {
    const { window } = this;
    for (let start = 0; start < frames; start += STRIDE) {
      const count = Math.min(STRIDE, frames - start);
      window.set(this.history);
      for (let i = 0; i < count; i++) window[HISTORY + i] = samples[start + i];
      this.scan(count);
      this.history.set(window.subarray(count, count + HISTORY));
    }
  }

  /** Runs the filter out over the silence after the last sample. */
  finish(): number {
    this.push(new Float64Array(HISTORY), HISTORY);
    return this.largest;
  }

  private scan(count: number): void {
    const { window } = this;
    let highest = 0;
    for (let i = 0; i < HISTORY + count; i++) {
      const level = Math.abs(window[i]);
      if (level > highest) highest = level;
    }
    if (highest > this.largest) this.largest = highest;
    if (highest * TRUE_PEAK_BOUND <= this.largest) return;
    for (const taps of this.phases) {
      for (let i = 0; i < count; i++) {
        let value = 0;
        for (let k = 0; k < TRUE_PEAK_TAPS; k++) value += taps[k] * window[HISTORY + i - k];
        const level = Math.abs(value);
        if (level > this.largest) this.largest = level;
      }
    }
  }
}
