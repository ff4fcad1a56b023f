const hannBySize = new Map<number, Float64Array>();

/** Von Hann's window, periodic: halves overlapped by half add up to one. Shared: not to be written to. */
export function hannWindow(size: number): Float64Array {
  const known = hannBySize.get(size);
  if (known) return known;
  const window = Float64Array.from({ length: size }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / size));
  hannBySize.set(size, window);
  return window;
}

const TAPER_SHARE = 1 / 16;

/**
 * Ones that rise from 0 and fall back to it within a sixteenth of the length, as halves of a cosine (Tukey 1967). Cut off sharply, what is loud and low
 * leaks into every bin above it, and as two sides are cut at the same moment, what leaks arrives on both at once.
 */
export function taperedWindow(length: number): Float64Array {
  const rise = Math.floor(TAPER_SHARE * length);
  const window = new Float64Array(length).fill(1);
  for (let i = 0; i < rise; i++)
    window[i] = window[length - 1 - i] = 0.5 - 0.5 * Math.cos((Math.PI * (i + 0.5)) / rise);
  return window;
}

/** The power of two nearest to a length, on a logarithmic scale. */
export function nearestPowerOfTwo(length: number): number {
  return 2 ** Math.max(2, Math.round(Math.log2(length)));
}
