const HALF_TAPS = 31;
// A windowed sinc with its edge at a quarter of the rate (Hamming's window).
const FILTER = Float64Array.from({ length: 2 * HALF_TAPS + 1 }, (_, i) => {
  const n = i - HALF_TAPS;
  const sinc = n === 0 ? 0.5 : Math.sin((Math.PI * n) / 2) / (Math.PI * n);
  return sinc * (0.54 + 0.46 * Math.cos((Math.PI * n) / (HALF_TAPS + 1)));
});

/** Halves the sample rate a number of times; what lies above half the new rate is filtered out. */
export function lowerRate(samples: Float64Array, halvings: number): Float64Array {
  let sound = samples;
  for (let h = 0; h < halvings; h++) {
    const source = sound;
    sound = Float64Array.from({ length: source.length >> 1 }, (_, i) => {
      let value = 0;
      for (let k = 0; k < FILTER.length; k++) {
        const at = 2 * i + k - HALF_TAPS;
        if (at >= 0 && at < source.length) value += FILTER[k] * source[at];
      }
      return value;
    });
  }
  return sound;
}
