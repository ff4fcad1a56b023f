import type { SoundRoom } from '../soundRoom.ts';
import { meanOfSeries, powerOf } from '../../kernels/stretchSums.ts';
import { sharedTransform, type Bins, type PairTransform } from '../../kernels/fourier.ts';

/** Generalised cross-correlation of two sides over lags from -`reach` to +`reach` values; right later is positive. */
export interface Correlogram {
  reach: number;
  /** How many values there are to a sample. */
  perSample: number;
  values: Float64Array;
}

export interface Arrival {
  /** Right later than left is positive; to a fraction of a sample. */
  delaySamples: number;
  /** -1..1: the share of the whitened sound that agrees on this delay; negative where it is upside down. */
  height: number;
  /** How far the peak stands out of the rest, in standard deviations of the rest. */
  prominence: number;
}

/** The arrival of a stretch. */
export interface TimedArrival extends Pick<Arrival, 'delaySamples' | 'prominence'> {
  startFrame: number;
}

/** Bins from 0; magnitudes are those of the whitened bins. */
export interface WhitenedSpectrum {
  re: Float64Array;
  im: Float64Array;
  magnitudes: Float64Array;
}

const BAND_HZ = { low: 120, high: 7000 };
// Between values further apart than a quarter of the band's shortest period a tenth of a peak's height is lost.
const VALUES_A_SECOND = 4 * BAND_HZ.high;

/**
 * What makes a bin's magnitude nearly 1. A power of -1 whitens fully (Knapp and Carter, "The generalized correlation method", 1976: PHAT); -7/8 trusts
 * strong bins a little more, and takes three roots where other powers take a logarithm.
 */
function whitening(magnitude: number): number {
  const half = Math.sqrt(magnitude);
  const quarter = Math.sqrt(half);
  return 1 / (half * quarter * Math.sqrt(quarter));
}

/** Correlates stretches of two sides; one transform size for all. */
export class ArrivalFinder {
  private readonly size: number;
  private readonly back: PairTransform;

  /** @param length samples in a stretch @param perSample values of a correlogram to a sample, a power of two */
  constructor(
    private readonly sampleRate: number,
    private readonly length: number,
    private readonly reach: number,
    private readonly perSample = 1,
  ) {
    this.size = 2 ** Math.ceil(Math.log2(length + reach));
    this.back = sharedTransform(perSample * this.size);
  }

  /** One for each of some pairs of sounds. @param room where they lie; in arrays of their own without it */
  correlate(sounds: readonly (readonly [left: Float64Array, right: Float64Array])[], room?: SoundRoom): Correlogram[] {
    const correlograms: Correlogram[] = [];
    // Two go through one transform back.
    for (let s = 0; s < sounds.length; s += 2) {
      const some = sounds.slice(s, s + 2).map(([left, right]) => this.crossed(left, right, room));
      const { one, other } = this.back.inverse(some[0], some[1], this.perSample * this.reach + 1);
      some.forEach((_, i) => correlograms.push(this.aroundZero(i === 0 ? one : other, room)));
    }
    return correlograms;
  }

  /** One side's spectrum, whitened by itself: with many channels each is transformed once and not for every pair. */
  whitened(sound: Float64Array): WhitenedSpectrum {
    const { re, im } = this.transform.spectrum(sound);
    const { first, last } = this.band();
    const magnitudes = new Float64Array(last + 1);
    for (let k = first; k <= last; k++) {
      const magnitude = Math.sqrt(re[k] * re[k] + im[k] * im[k]);
      if (magnitude === 0) continue;
      const factor = whitening(magnitude);
      re[k] *= factor;
      im[k] *= factor;
      magnitudes[k] = magnitude * factor;
    }
    return { re, im, magnitudes };
  }

  /** The mean of the correlograms of stretches, each as `correlate` would give it. */
  meanCorrelogram(left: WhitenedSpectrum[], right: WhitenedSpectrum[]): Correlogram {
    const { first, last } = this.band();
    const re = new Float64Array(last + 1 - first);
    const im = new Float64Array(last + 1 - first);
    left.forEach((l, s) => {
      const r = right[s];
      let weight = 0;
      for (let k = first; k <= last; k++) weight += l.magnitudes[k] * r.magnitudes[k];
      const scale = weight > 0 ? this.back.size / 2 / (weight * left.length) : 0;
      for (let k = first; k <= last; k++) {
        re[k - first] += scale * (l.re[k] * r.re[k] + l.im[k] * r.im[k]);
        im[k - first] += scale * (l.re[k] * r.im[k] - l.im[k] * r.re[k]);
      }
    });
    return this.aroundZero(this.back.inverse({ first, re, im }, undefined, this.perSample * this.reach + 1).one);
  }

  /** Asked for each time: others of this size taper other lengths. */
  private get transform(): PairTransform {
    return sharedTransform(this.size, { tapered: this.length });
  }

  private aroundZero(circular: Float64Array, room?: SoundRoom): Correlogram {
    const { perSample } = this;
    const reach = perSample * this.reach;
    const values = room?.take(2 * reach + 1) ?? new Float64Array(2 * reach + 1);
    values.set(circular.subarray(this.back.size - reach));
    values.set(circular.subarray(0, reach + 1), reach);
    return { reach, perSample, values };
  }

  /** Bins that count, from and to. */
  private band(): { first: number; last: number } {
    const { size } = this;
    return {
      first: Math.max(1, Math.round((BAND_HZ.low * size) / this.sampleRate)),
      last: Math.round((Math.min(BAND_HZ.high, 0.45 * this.sampleRate) * size) / this.sampleRate),
    };
  }

  /** The whitened cross spectrum of two sounds, whose correlogram comes to 1 where all of it agrees. */
  private crossed(left: Float64Array, right: Float64Array, room?: SoundRoom): Bins {
    const { first, last } = this.band();
    const bins = this.transform.cross(left, right, first, last, this.back.size / 2);
    const [re, im] = [bins.re, bins.im].map((values) => room?.copyOf(values) ?? values.slice());
    return { first, re, im };
  }
}

/** How many values a correlogram of two sides of such a rate has to a sample: a power of two. */
export function valuesASample(sampleRate: number): number {
  return 2 ** Math.max(0, Math.ceil(Math.log2(VALUES_A_SECOND / sampleRate)));
}

export function sumOfCorrelograms(correlograms: Correlogram[]): Correlogram {
  const { reach, perSample } = correlograms[0];
  return { reach, perSample, values: meanOfSeries(correlograms.map(({ values }) => values)) };
}

/** The strongest agreement, of either polarity. */
export function strongestArrival(correlogram: Correlogram): Arrival {
  const { values, reach } = correlogram;
  const { length } = values;
  let best = reach;
  let most = Math.abs(values[reach]);
  for (let i = 0; i < length; i++) {
    const height = Math.abs(values[i]);
    if (height <= most) continue;
    most = height;
    best = i;
  }
  return arrivalAt(correlogram, best);
}

// A band-limited peak swings to the other side this near to itself.
const PEAK_SECONDS = 0.0003;

/** The strongest agreement of the other polarity than that of the strongest one, `first`. */
export function arrivalTheOtherWay(correlogram: Correlogram, first: Arrival, sampleRate: number): Arrival {
  const { values, reach, perSample } = correlogram;
  const sign = first.height < 0 ? -1 : 1;
  const at = reach + Math.round(perSample * first.delaySamples);
  const besides = perSample * PEAK_SECONDS * sampleRate;
  let best = at > reach ? 0 : values.length - 1;
  for (let i = 0; i < values.length; i++)
    if (Math.abs(i - at) > besides && sign * values[i] < sign * values[best]) best = i;
  return arrivalAt(correlogram, best);
}

/** Refined by the band-limited shape of the peak: a sinc, whose top a parabola through three points finds to about a tenth of a sample. */
function arrivalAt({ values, reach, perSample }: Correlogram, best: number): Arrival {
  const spread = Math.sqrt(powerOf(values)) || 1;
  const sign = Math.sign(values[best]) || 1;
  const at = (i: number): number => sign * (values[i] ?? 0);
  const bend = at(best - 1) - 2 * at(best) + at(best + 1);
  const offset = bend < 0 ? (0.5 * (at(best - 1) - at(best + 1))) / bend : 0;
  return {
    delaySamples: (best - reach + Math.max(-0.5, Math.min(0.5, offset))) / perSample,
    height: values[best],
    prominence: Math.abs(values[best]) / spread,
  };
}
