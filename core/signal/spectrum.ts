import FFT from 'fft.js';

/** Fourier transforms of two real signals at once, of a power-of-two length. */
export class PairTransform {
  private readonly fft: FFT;
  private readonly input: Float64Array;
  private readonly output: Float64Array;

  constructor(readonly size: number) {
    this.fft = new FFT(size);
    this.input = new Float64Array(2 * size);
    this.output = new Float64Array(2 * size);
  }

  /**
   * Spectra of two real signals, zero-padded to the size; optionally each sample weighted by a window.
   * The two travel as real and imaginary part of one complex signal and are taken apart by symmetry.
   */
  forward(left: Float64Array, right: Float64Array, window?: Float64Array): PairSpectrum {
    const { input, output, size } = this;
    const length = Math.min(left.length, size);
    for (let i = 0; i < length; i++) {
      const weight = window ? window[i] : 1;
      input[2 * i] = left[i] * weight;
      input[2 * i + 1] = right[i] * weight;
    }
    input.fill(0, 2 * length);
    this.fft.transform(output, input);
    const bins = size / 2 + 1;
    const spectrum = { leftRe: new Float64Array(bins), leftIm: new Float64Array(bins), rightRe: new Float64Array(bins), rightIm: new Float64Array(bins) };
    for (let k = 0; k < bins; k++) {
      const m = (size - k) % size;
      const re = output[2 * k];
      const im = output[2 * k + 1];
      const mirroredRe = output[2 * m];
      const mirroredIm = output[2 * m + 1];
      spectrum.leftRe[k] = (re + mirroredRe) / 2;
      spectrum.leftIm[k] = (im - mirroredIm) / 2;
      spectrum.rightRe[k] = (im + mirroredIm) / 2;
      spectrum.rightIm[k] = (mirroredRe - re) / 2;
    }
    return spectrum;
  }

  /** The real signal whose spectrum has these bins from 0 to half the rate. */
  inverse(re: Float64Array, im: Float64Array): Float64Array {
    const { input, output, size } = this;
    for (let k = 0; k <= size / 2; k++) {
      input[2 * k] = re[k];
      input[2 * k + 1] = im[k];
      const m = (size - k) % size;
      input[2 * m] = re[k];
      input[2 * m + 1] = m === k ? im[k] : -im[k];
    }
    this.fft.inverseTransform(output, input);
    const signal = new Float64Array(size);
    for (let i = 0; i < size; i++) signal[i] = output[2 * i];
    return signal;
  }
}

export interface PairSpectrum {
  leftRe: Float64Array;
  leftIm: Float64Array;
  rightRe: Float64Array;
  rightIm: Float64Array;
}

/** Von Hann's window, periodic: halves overlapped by half add up to one. */
export function hannWindow(size: number): Float64Array {
  return Float64Array.from({ length: size }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / size));
}

/** The power of two nearest to a length, on a logarithmic scale. */
export function nearestPowerOfTwo(length: number): number {
  return 2 ** Math.max(1, Math.round(Math.log2(length)));
}
