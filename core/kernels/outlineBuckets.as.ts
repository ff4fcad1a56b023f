// Buckets of the outline: as they are kept, and joined to those of the level above. A bucket holds, for each lane, minimum, maximum and sum of squares.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

const LANE: usize = 24;
const ROUNDED_LANE: usize = 12;

/** Minimum, maximum and RMS in 32-bit floats. `frames`: of each bucket; the last may have fewer. */
export function roundBuckets(buckets: usize, count: u32, lanes: u32, frames: f64, framesInLast: f64, out: usize): void {
  for (let b: u32 = 1; b <= count; b++) {
    const each = b < count ? frames : framesInLast;
    for (let l: u32 = 0; l < lanes; l++) {
      store<f32>(out, f32(load<f64>(buckets)));
      store<f32>(out, f32(load<f64>(buckets, 8)), 4);
      store<f32>(out, f32(sqrt(load<f64>(buckets, 16) / each)), 8);
      buckets += LANE;
      out += ROUNDED_LANE;
    }
  }
}

/**
 * Joins each `step` buckets to one. `filled`: how many the first of `merged` holds already.
 * Returns how many the last holds, which is open: 0 where it is not begun.
 */
export function mergeBuckets(buckets: usize, count: u32, lanes: u32, step: u32, filled: u32, merged: usize): u32 {
  const width = usize(lanes) * LANE;
  for (let b: u32 = 0; b < count; b++) {
    if (filled == 0) memory.copy(merged, buckets, width);
    else {
      for (let at: usize = 0; at < width; at += LANE) {
        const into = merged + at, from = buckets + at;
        store<f64>(into, min(load<f64>(into), load<f64>(from)));
        store<f64>(into, max(load<f64>(into, 8), load<f64>(from, 8)), 8);
        store<f64>(into, load<f64>(into, 16) + load<f64>(from, 16), 16);
      }
    }
    buckets += width;
    if (++filled < step) continue;
    filled = 0;
    merged += width;
  }
  return filled;
}
