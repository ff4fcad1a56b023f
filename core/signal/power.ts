/** Mean square. */
export function powerOf(samples: Float64Array): number {
  // Four sums, as each waits for the value before it.
  let a = 0;
  let b = 0;
  let c = 0;
  let d = 0;
  let i = 0;
  for (; i + 4 <= samples.length; i += 4) {
    a += samples[i] * samples[i];
    b += samples[i + 1] * samples[i + 1];
    c += samples[i + 2] * samples[i + 2];
    d += samples[i + 3] * samples[i + 3];
  }
  for (; i < samples.length; i++) a += samples[i] * samples[i];
  return (a + b + c + d) / samples.length;
}
