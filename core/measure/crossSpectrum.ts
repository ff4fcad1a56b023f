import { hannWindow, PairTransform } from '../signal/spectrum.ts';

/** Mean power and cross spectra of two sides (Welch, 1967), bins from 0 to half the rate. */
export interface CrossSpectrum {
  sampleRate: number;
  windows: number;
  left: Float64Array;
  right: Float64Array;
  crossRe: Float64Array;
  crossIm: Float64Array;
}

/** Sums up windows of stretches, overlapped by half. */
export class CrossSpectrumMeter {
  private readonly transform: PairTransform;
  private readonly window: Float64Array;
  private readonly sums: CrossSpectrum;

  constructor(sampleRate: number, size: number) {
    this.transform = new PairTransform(size);
    this.window = hannWindow(size);
    const bins = (): Float64Array => new Float64Array(size / 2 + 1);
    this.sums = { sampleRate, windows: 0, left: bins(), right: bins(), crossRe: bins(), crossIm: bins() };
  }

  push(left: Float64Array, right: Float64Array): void {
    const { size } = this.transform;
    const { sums } = this;
    for (let start = 0; start + size <= left.length; start += size / 2) {
      const { leftRe, leftIm, rightRe, rightIm } = this.transform.forward(
        left.subarray(start, start + size), right.subarray(start, start + size), this.window,
      );
      sums.windows++;
      for (let k = 0; k < leftRe.length; k++) {
        sums.left[k] += leftRe[k] * leftRe[k] + leftIm[k] * leftIm[k];
        sums.right[k] += rightRe[k] * rightRe[k] + rightIm[k] * rightIm[k];
        // Left's conjugate times right: its phase falls with frequency where right is later.
        sums.crossRe[k] += leftRe[k] * rightRe[k] + leftIm[k] * rightIm[k];
        sums.crossIm[k] += leftRe[k] * rightIm[k] - leftIm[k] * rightRe[k];
      }
    }
  }

  /** Means over the windows; zeros where there was none. */
  finish(): CrossSpectrum {
    const { sums } = this;
    const mean = (values: Float64Array): Float64Array => values.map((value) => value / Math.max(1, sums.windows));
    return { ...sums, left: mean(sums.left), right: mean(sums.right), crossRe: mean(sums.crossRe), crossIm: mean(sums.crossIm) };
  }
}

/** Magnitude-squared coherence of each bin, 0..1. */
export function coherence({ left, right, crossRe, crossIm }: CrossSpectrum): Float64Array {
  return left.map((power, k) => {
    const scale = power * right[k];
    return scale > 0 ? Math.min(1, (crossRe[k] ** 2 + crossIm[k] ** 2) / scale) : 0;
  });
}

/** What no filter can bring into agreement, as a share of the power (0..1): 1 - coherence, weighted by the power of both sides. */
export function incoherentShare(spectrum: CrossSpectrum): number {
  const agreement = coherence(spectrum);
  let apart = 0;
  let total = 0;
  for (let k = 1; k < agreement.length; k++) {
    const weight = Math.sqrt(spectrum.left[k] * spectrum.right[k]);
    apart += weight * (1 - agreement[k]);
    total += weight;
  }
  return total > 0 ? apart / total : 1;
}
