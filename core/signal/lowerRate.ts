const HALF_TAPS = 31;

/** Samples at either end of lowered sound that the end itself colours, an even number. */
export const LOWERING_MARGIN = HALF_TAPS + 1;

// A windowed sinc with its edge at a quarter of the rate (Hamming's window): every second weight from the middle is zero,
// and the rest are the same on both sides of it.
const WEIGHTS = Float64Array.from({ length: (HALF_TAPS + 1) / 2 }, (_, i) => {
  const n = 2 * i + 1;
  return (Math.sin((Math.PI * n) / 2) / (Math.PI * n)) * (0.54 + 0.46 * Math.cos((Math.PI * n) / (HALF_TAPS + 1)));
});

/** Halves the sample rate a number of times; what lies above half the new rate is filtered out. Sample i is at the old 2 i. */
export function lowerRate(samples: Float64Array, halvings: number): Float64Array {
  let sound = samples;
  for (let h = 0; h < halvings; h++) sound = halved(sound);
  return sound;
}

function halved(source: Float64Array): Float64Array {
  const padded = new Float64Array(source.length + 2 * HALF_TAPS + 1);
  padded.set(source, HALF_TAPS);
  const sound = new Float64Array(source.length >> 1);
  for (let i = 0; i < sound.length; i++) {
    const middle = 2 * i + HALF_TAPS;
    let value = 0.5 * padded[middle];
    for (let k = 0, n = 1; k < WEIGHTS.length; k++, n += 2) value += WEIGHTS[k] * (padded[middle - n] + padded[middle + n]);
    sound[i] = value;
  }
  return sound;
}
