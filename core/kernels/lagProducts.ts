import { sharedTransform } from './fourier.ts';

// Of a transform so many times as long as the lags three quarters are new samples; longer ones take longer than what they save.
const LENGTHS_OF_LAGS = 4;

/**
 * The sums over n of a[n] b[n + j], of all pairs together, for j from 0 up to `lags`: by transforms of pieces that overlap (T. G. Stockham, "High-speed convolution
 * and correlation", 1966). From a hundred lags on that is quicker than the sums themselves.
 * @param pairs in each b is `lags` longer than a @returns to be used within the same synchronous step
 */
export function lagProducts(pairs: readonly { a: Float64Array; b: Float64Array }[], lags: number): Float64Array {
  const size = 2 ** Math.ceil(Math.log2(LENGTHS_OF_LAGS * lags));
  const piece = size - lags;
  const transform = sharedTransform(size);
  for (const { a, b } of pairs)
    for (let start = 0; start < a.length; start += piece)
      transform.add(a.subarray(start, start + piece), b.subarray(start, start + size));
  const { crossRe, crossIm } = transform.take();
  return transform.inverse({ first: 0, re: crossRe, im: crossIm }, undefined, lags).one.subarray(0, lags);
}
