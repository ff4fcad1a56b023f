import { PairTransform } from '../kernels/fourier.ts';
import { dbFromPower } from '../signal/decibels.ts';

// Two recordings of one event rise and fall together; unrelated ones agree by chance up to about a third.
const LEAST_AGREEMENT = 0.5;
// Quieter than this below the loudest is all the same: the floors of two recorders need not agree.
const DEPTH_DB = 50;

/**
 * How many steps later the sound of one recording comes in another, told from how both rise and fall: over their whole length, so that recordings that
 * began at different times are found. The peak of the normalised cross-correlation of the levels in decibels.
 * @param a @param b speech power in equal steps
 * @returns null where the two do not go together
 */
export function coarseOffset(a: Float64Array, b: Float64Array): number | null {
  if (a.length === 0 || b.length === 0) return null;
  const size = Math.max(4, 2 ** Math.ceil(Math.log2(a.length + b.length)));
  const transform = new PairTransform(size);
  const x = levels(a);
  const y = levels(b);
  if (x.energy === 0 || y.energy === 0) return null;
  const first = transform.spectrum(x.values);
  const second = transform.spectrum(y.values);
  const correlation = transform.inverse({
    first: 0,
    re: first.re.map((re, k) => re * second.re[k] + first.im[k] * second.im[k]),
    im: first.re.map((re, k) => re * second.im[k] - first.im[k] * second.re[k]),
  }).one;
  let best = 0;
  for (let i = 0; i < size; i++) if (correlation[i] > correlation[best]) best = i;
  const lag = best > size / 2 ? best - size : best;
  return agreementAt(x.values, y.values, lag) < LEAST_AGREEMENT ? null : lag;
}

/** How alike both rise and fall where they overlap, -1..1. */
function agreementAt(x: Float64Array, y: Float64Array, lag: number): number {
  const from = Math.max(0, -lag);
  const to = Math.min(x.length, y.length - lag);
  let xx = 0;
  let yy = 0;
  let xy = 0;
  for (let t = from; t < to; t++) {
    xx += x[t] * x[t];
    yy += y[t + lag] * y[t + lag];
    xy += x[t] * y[t + lag];
  }
  return xx * yy > 0 ? xy / Math.sqrt(xx * yy) : 0;
}

/** In decibels about their mean. */
function levels(power: Float64Array): { values: Float64Array; energy: number } {
  const loudest = power.reduce((most, value) => Math.max(most, value), 0);
  const db = power.map((value) => Math.max(-DEPTH_DB, dbFromPower((value + 1e-16) / (loudest + 1e-16))));
  const mean = db.reduce((sum, value) => sum + value, 0) / db.length;
  const values = db.map((value) => value - mean);
  return { values, energy: values.reduce((sum, value) => sum + value * value, 0) };
}
