import { hannWindow, taperedWindow } from '../signal/spectrum.ts';
import { fourierWasm } from './fourier.wasm.ts';
import { instantiateKernel } from './instantiateKernel.ts';
import { memoryFor } from './kernelMemory.ts';

interface FourierExports {
  transform(x: number, y: number, twiddles: number, size: number): number;
  weave(left: number, right: number, window: number, size: number, out: number): void;
  unweave(woven: number, left: number, right: number, count: number): void;
  addBins(re: number, im: number, first: number, count: number, size: number, isSecond: boolean, x: number): void;
  addCrossPowers(spectrum: number, size: number, first: number, last: number, sums: number): void;
  gather(sums: number, totals: number, size: number): number;
  whiten(re: number, im: number, count: number, total: number): void;
}

/** Sums over windows of two real signals, bins from 0 to half the rate. */
export interface CrossPowers {
  left: Float64Array;
  right: Float64Array;
  /** Left's conjugate times right: its phase falls with frequency where right is later. */
  crossRe: Float64Array;
  crossIm: Float64Array;
}

/** Neighbouring bins of a real signal's spectrum, from `first` up to at most half the rate; all others are 0. */
export interface Bins {
  first: number;
  re: Float64Array;
  im: Float64Array;
}

const VALUE_BYTES = 8;
const NO_SAMPLES = new Float64Array();

/** Fourier transforms of two real signals at once, of a power-of-two length from 4. */
export class PairTransform {
  private readonly kernel: FourierExports;
  private readonly left: Float64Array;
  private readonly right: Float64Array;
  private readonly window: Float64Array;
  private readonly x: Float64Array;
  private readonly y: Float64Array;
  private readonly twiddles: Float64Array;
  private readonly sums: Float64Array;
  private readonly gathered: Float64Array;
  private readonly crossed: { re: Float64Array; im: Float64Array };

  /** @param window weighs the samples from the first on, those beyond it not at all; all alike without it */
  constructor(
    readonly size: number,
    window?: Float64Array,
  ) {
    const { memory, places } = memoryFor([
      ...[size, size, size, 2 * size, 2 * size, 2 * size],
      ...[4 * (size / 2 + 2), 4 * (size / 2 + 2)],
    ]);
    [this.left, this.right, this.window, this.x, this.y, this.twiddles, this.sums, this.gathered] = places;
    this.weigh(window ?? new Float64Array(size).fill(1));
    this.twiddles.set(twiddlesOf(size));
    this.crossed = { re: new Float64Array(size / 2 + 1), im: new Float64Array(size / 2 + 1) };
    this.kernel = instantiateKernel<FourierExports>(fourierWasm, memory);
  }

  /** By another window from here on. */
  weigh(window: Float64Array): void {
    hold(this.window, window);
  }

  /** Adds the powers of two real signals of at most `size` samples (zeros follow) to the sums. */
  add(left: Float64Array, right: Float64Array): void {
    const { size, kernel } = this;
    kernel.addCrossPowers(this.woven(left, right), size, 0, size / 2, this.sums.byteOffset);
  }

  /**
   * The cross spectrum of two real signals alone, from one bin up to another. Overwritten by the next call.
   * @param whitenedTo the magnitudes are brought nearly to 1, and all of them together to this; as they are without it
   */
  cross(left: Float64Array, right: Float64Array, first: number, last: number, whitenedTo?: number): Bins {
    const { size, kernel, sums, crossed } = this;
    kernel.addCrossPowers(this.woven(left, right), size, first, last, sums.byteOffset);
    const count = last + 1 - first;
    const [crossRe, crossIm] = [2, 3].map((series) => this.series(series, first, last + 1));
    // One more than asked for is written where their number is odd.
    crossRe[count] = crossIm[count] = 0;
    if (whitenedTo !== undefined) kernel.whiten(crossRe.byteOffset, crossIm.byteOffset, count, whitenedTo);
    const re = crossed.re.subarray(0, count);
    const im = crossed.im.subarray(0, count);
    re.set(crossRe.subarray(0, count));
    im.set(crossIm.subarray(0, count));
    for (const series of [0, 1, 2, 3]) this.series(series, first, last + 1).fill(0);
    return { first, re, im };
  }

  /** The spectrum of one real signal of at most `size` samples, bins from 0 to half the rate. */
  spectrum(samples: Float64Array): { re: Float64Array; im: Float64Array } {
    const { size, x } = this;
    const result = this.woven(samples, NO_SAMPLES) === x.byteOffset ? x : this.y;
    const re = new Float64Array(size / 2 + 1);
    const im = new Float64Array(size / 2 + 1);
    for (let k = 0; k <= size / 2; k++) {
      re[k] = result[2 * k];
      im[k] = result[2 * k + 1];
    }
    return { re, im };
  }

  /** What was added since the last time. @param into to be filled and given back */
  take(into = noPowers(this.size)): CrossPowers {
    return this.taken(this.sums, into);
  }

  /**
   * Puts what was added since the last time, to be taken, with what was gathered before it. @returns the share of its power (0..1) that no filter brings into
   * agreement, 1 less the coherence of each bin but the first
   */
  gather(): number {
    return this.kernel.gather(this.sums.byteOffset, this.gathered.byteOffset, this.size);
  }

  /** What was gathered since the last time. */
  takeGathered(): CrossPowers {
    return this.taken(this.gathered, noPowers(this.size));
  }

  private taken(sums: Float64Array, into: CrossPowers): CrossPowers {
    const { left, right, crossRe, crossIm } = into;
    [left, right, crossRe, crossIm].forEach((series, s) => series.set(this.series(s, 0, this.size / 2, sums)));
    sums.fill(0);
    return into;
  }

  /**
   * The real signals that have these spectra, two by one transform. Overwritten by the next call.
   * @param reach how many samples from the start on, and how many before the end, are wanted; what lies between them is of the calls before
   */
  inverse(one: Bins, other?: Bins, reach = this.size / 2): { one: Float64Array; other: Float64Array } {
    const { size, x, left, right } = this;
    x.fill(0);
    // With Z = A + i B of spectra that have the symmetry of real signals, the transform of Z's conjugate is a - i b, but for the scale.
    this.addBins(one, false);
    if (other) this.addBins(other, true);
    const woven = this.forward();
    const unweave = (from: number, count: number): void =>
      this.kernel.unweave(
        woven + 2 * from * VALUE_BYTES,
        left.byteOffset + from * VALUE_BYTES,
        right.byteOffset + from * VALUE_BYTES,
        count,
      );
    unweave(0, reach);
    unweave(size - reach, reach);
    return { one: left, other: right };
  }

  /**
   * Two real signals of at most `size` samples, each through the filter that has this spectrum, by one transform there and one back; what goes beyond the
   * end comes in at the start. Overwritten by the next call.
   */
  filtered(
    one: Float64Array,
    other: Float64Array,
    { re, im }: { re: Float64Array; im: Float64Array },
  ): { one: Float64Array; other: Float64Array } {
    const { size, x, left, right } = this;
    const spectrum = this.woven(one, other) === x.byteOffset ? x : this.y;
    // The conjugate, as it is transformed back by the way forward.
    for (let k = 0; k < size; k++) {
      const mirrored = k > size / 2;
      const filterRe = re[mirrored ? size - k : k];
      const filterIm = mirrored ? -im[size - k] : im[k];
      const real = spectrum[2 * k];
      const imaginary = spectrum[2 * k + 1];
      x[2 * k] = (real * filterRe - imaginary * filterIm) / size;
      x[2 * k + 1] = -(real * filterIm + imaginary * filterRe) / size;
    }
    this.kernel.unweave(this.forward(), left.byteOffset, right.byteOffset, size);
    return { one: left, other: right };
  }

  private addBins({ first, re, im }: Bins, isSecond: boolean): void {
    const { kernel, left, right, size, x } = this;
    left.set(re);
    right.set(im);
    kernel.addBins(left.byteOffset, right.byteOffset, first, re.length, size, isSecond, x.byteOffset);
  }

  /** @returns where the spectrum of two real signals is that travel in one, weighed by the window */
  private woven(one: Float64Array, other: Float64Array): number {
    const { size, kernel, left, right, window, x } = this;
    hold(left, one);
    hold(right, other);
    kernel.weave(left.byteOffset, right.byteOffset, window.byteOffset, size, x.byteOffset);
    return this.forward();
  }

  /** Bins of one of four sums. */
  private series(series: number, first: number, last: number, sums = this.sums): Float64Array {
    const start = series * (this.size / 2 + 2);
    return sums.subarray(start + first, start + last + 1);
  }

  private forward(): number {
    return this.kernel.transform(this.x.byteOffset, this.y.byteOffset, this.twiddles.byteOffset, this.size);
  }
}

/** Of a transform of such a size, with nothing added. */
export function noPowers(size: number): CrossPowers {
  const none = (): Float64Array => new Float64Array(size / 2 + 1);
  return { left: none(), right: none(), crossRe: none(), crossIm: none() };
}

const shared = new Map<string, PairTransform>();

/** How samples are weighed: all alike, by von Hann's window over all of them, or so many of them tapered at both ends. */
type Weighing = 'none' | 'hann' | { tapered: number };

/**
 * The one transform of a size that weighs samples so: to make one takes as long as many transforms, and its memory is long in being freed. For use within
 * one synchronous step, that leaves nothing in its sums.
 */
export function sharedTransform(size: number, weighing: Weighing = 'none'): PairTransform {
  if (typeof weighing !== 'string') return taperedTransform(size, weighing.tapered);
  const key = `${size} ${weighing}`;
  let transform = shared.get(key);
  if (!transform) {
    transform = new PairTransform(size, weighing === 'hann' ? hannWindow(size) : undefined);
    shared.set(key, transform);
  }
  return transform;
}

const tapered = new Map<number, { transform: PairTransform; length: number }>();

/** One of a size for all lengths, as those of clips shorter than a stretch are without number. */
function taperedTransform(size: number, length: number): PairTransform {
  const known = tapered.get(size);
  if (known?.length === length) return known.transform;
  const transform = known?.transform ?? new PairTransform(size);
  transform.weigh(taperedWindow(length));
  tapered.set(size, { transform, length });
  return transform;
}

// Sines take longer than the transforms; there are few sizes.
const twiddlesBySize = new Map<number, Float64Array>();

/** exp(-2 pi i k / size), re and im, for k from 0. */
function twiddlesOf(size: number): Float64Array {
  const known = twiddlesBySize.get(size);
  if (known) return known;
  const twiddles = new Float64Array(2 * size);
  for (let k = 0; k < size; k++) {
    twiddles[2 * k] = Math.cos((2 * Math.PI * k) / size);
    twiddles[2 * k + 1] = -Math.sin((2 * Math.PI * k) / size);
  }
  twiddlesBySize.set(size, twiddles);
  return twiddles;
}

function hold(place: Float64Array, samples: Float64Array): void {
  place.set(samples);
  place.fill(0, samples.length);
}
