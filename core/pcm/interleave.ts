/** Planar values to interleaved 64-bit float words, as a meter takes them. */
export function interleave(planar: Float64Array[], frames: number): Uint8Array {
  const channels = planar.length;
  const words = new Float64Array(frames * channels);
  planar.forEach((samples, c) => {
    for (let i = 0, at = c; i < frames; i++, at += channels) words[at] = samples[i];
  });
  return new Uint8Array(words.buffer);
}

export const INTERLEAVED = { kind: 'float', bits: 64 } as const;
