import { TapSlider } from '../../kernels/tapSlider.ts';
import { HALF_TAPS, interpolationTaps } from '../../signal/interpolationTaps.ts';

/**
 * Delays one channel by a fixed number of samples, block by block. Whole samples are moved
 * exactly; a fraction is interpolated by a windowed sinc.
 */
export class ShiftLine {
  /** The smallest delay the interpolation can make. */
  static readonly leastFractionalDelay = HALF_TAPS;

  private readonly interpolation: TapSlider | null;
  /** The samples before the next ones, as many as the delay reaches back. */
  private readonly history: Float64Array;
  private reach = new Float64Array(0);

  /** @param delaySamples 0 or more; at least `leastFractionalDelay` when it has a fraction */
  constructor(delaySamples: number) {
    const fraction = delaySamples - Math.floor(delaySamples);
    this.interpolation = fraction === 0 ? null : new TapSlider(interpolationTaps(fraction).reverse());
    const whole = Math.floor(delaySamples) - (this.interpolation ? HALF_TAPS - 1 : 0);
    this.history = new Float64Array(whole + (this.interpolation ? 2 * HALF_TAPS - 1 : 0));
  }

  /** How many of the samples it was given still count. */
  memoryFramesAt(): number {
    return this.history.length;
  }

  /** Forgets what it was given. */
  clear(): void {
    this.history.fill(0);
  }

  /** Takes the next samples and gives the delayed ones. */
  process(samples: Float32Array | Float64Array, delayed: Float64Array, frames: number): void {
    const { history, interpolation } = this;
    const { length } = history;
    if (this.reach.length < length + frames) this.reach = new Float64Array(length + frames);
    const { reach } = this;
    reach.set(history);
    reach.set(samples.length === frames ? samples : samples.subarray(0, frames), length);
    // What is `whole` frames and the filter's own reach old stands first.
    if (interpolation) interpolation.slide(reach, delayed, frames);
    else delayed.set(reach.subarray(0, frames));
    history.set(reach.subarray(frames, frames + length));
  }
}
