const hannBySize = new Map<number, Float64Array>();

/** Von Hann's window, periodic: halves overlapped by half add up to one. Shared: not to be written to. */
export function hannWindow(size: number): Float64Array {
  const known = hannBySize.get(size);
  if (known) return known;
  const window = Float64Array.from({ length: size }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / size));
  hannBySize.set(size, window);
  return window;
}

/** The power of two nearest to a length, on a logarithmic scale. */
export function nearestPowerOfTwo(length: number): number {
  return 2 ** Math.max(2, Math.round(Math.log2(length)));
}
