// The true peak of a block: the signal interpolated four times.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

import { fused } from '../fused.as';
import { FRAME } from './layout.as';

/** Frames before a block that its interpolation reaches. */
export const HISTORY: usize = 11;
const GROUP: usize = 16;
// Offsets from the taps to how far an interpolated value can exceed the largest sample around it (see truePeakFilter.ts).
export const BOUND: usize = 384;
const OUTER_BOUND: usize = 392;
const REST: usize = 400;

/**
 * `top` (one lane a channel) raised to the largest value of the signal interpolated four times. Needs the eleven frames
 * before `block`. The four phases are two mirrored pairs: with u = x[k] + x[11-k] and v = x[k] - x[11-k] each pair is
 * E + O and E - O, so `taps` holds, for k = 0 to 5 and both pairs, half the sum and half the difference of the two
 * mirrored taps, each as a vector.
 *
 * What cannot beat `top` is left out, sixteen frames at a time: first by the largest sample they reach (no value exceeds the
 * bound times it), then, where the two outer phases cannot either (the outer bound), by the four samples in the middle plus
 * the rest times the largest (the share of the taps around them).
 */
export function interpolatedPeak(block: usize, frames: u32, top: v128, taps: usize): v128 {
  const bounds = v128.load64_splat(taps, BOUND), outerBounds = v128.load64_splat(taps, OUTER_BOUND), rests = v128.load64_splat(taps, REST);
  const end = block + usize(frames) * FRAME;
  let before = highestOf(block - HISTORY * FRAME, block);
  for (let at = block; at < end; at += GROUP * FRAME) {
    const groupEnd = min(at + GROUP * FRAME, end);
    const here = highestOf(at, groupEnd);
    const highest = f64x2.pmax(before, here);
    before = here;
    top = f64x2.pmax(top, here);
    if (!v128.any_true(f64x2.gt(f64x2.mul(highest, bounds), top))) continue;
    const first = at - HISTORY * FRAME;
    const last = groupEnd - HISTORY * FRAME;
    if (!v128.any_true(f64x2.gt(f64x2.mul(highest, outerBounds), top))) {
      let middle = f64x2.splat(0);
      for (let i = first; i < last; i += FRAME) middle = f64x2.pmax(middle, middleOf(i, taps));
      if (!v128.any_true(f64x2.gt(fused(highest, rests, middle), top))) continue;
    }
    for (let i = first; i < last; i += FRAME) top = f64x2.pmax(top, interpolated(i, taps));
  }
  return top;
}

/** The largest magnitude of each lane; four chains of comparisons, as each waits for the one before it. */
// @ts-ignore: decorator
@inline
function highestOf(at: usize, end: usize): v128 {
  let a = f64x2.splat(0), b = a, c = a, d = a;
  for (; at + 4 * FRAME <= end; at += 4 * FRAME) {
    a = f64x2.pmax(a, f64x2.abs(v128.load(at)));
    b = f64x2.pmax(b, f64x2.abs(v128.load(at, 16)));
    c = f64x2.pmax(c, f64x2.abs(v128.load(at, 32)));
    d = f64x2.pmax(d, f64x2.abs(v128.load(at, 48)));
  }
  for (; at < end; at += FRAME) a = f64x2.pmax(a, f64x2.abs(v128.load(at)));
  return f64x2.pmax(f64x2.pmax(a, b), f64x2.pmax(c, d));
}

/** The largest of the two middle phases, from the four samples in the middle alone. */
// @ts-ignore: decorator
@inline
function middleOf(at: usize, taps: usize): v128 {
  const a = v128.load(at, 64), b = v128.load(at, 112), c = v128.load(at, 80), d = v128.load(at, 96);
  const u = f64x2.add(a, b), v = f64x2.sub(a, b), w = f64x2.add(c, d), x = f64x2.sub(c, d);
  const even = fused(u, v128.load(taps, 288), f64x2.mul(w, v128.load(taps, 352)));
  const odd = fused(v, v128.load(taps, 304), f64x2.mul(x, v128.load(taps, 368)));
  return f64x2.add(f64x2.abs(even), f64x2.abs(odd));
}

/** The largest of the four phases: max(|E + O|, |E - O|) = |E| + |O|. */
// @ts-ignore: decorator
@inline
function interpolated(at: usize, taps: usize): v128 {
  let near = v128.load(at), far = v128.load(at, 176);
  let u = f64x2.add(near, far), v = f64x2.sub(near, far);
  let even1 = f64x2.mul(u, v128.load(taps)), odd1 = f64x2.mul(v, v128.load(taps, 16));
  let even2 = f64x2.mul(u, v128.load(taps, 32)), odd2 = f64x2.mul(v, v128.load(taps, 48));
  near = v128.load(at, 16), far = v128.load(at, 160), u = f64x2.add(near, far), v = f64x2.sub(near, far);
  even1 = fused(u, v128.load(taps, 64), even1), odd1 = fused(v, v128.load(taps, 80), odd1);
  even2 = fused(u, v128.load(taps, 96), even2), odd2 = fused(v, v128.load(taps, 112), odd2);
  near = v128.load(at, 32), far = v128.load(at, 144), u = f64x2.add(near, far), v = f64x2.sub(near, far);
  even1 = fused(u, v128.load(taps, 128), even1), odd1 = fused(v, v128.load(taps, 144), odd1);
  even2 = fused(u, v128.load(taps, 160), even2), odd2 = fused(v, v128.load(taps, 176), odd2);
  near = v128.load(at, 48), far = v128.load(at, 128), u = f64x2.add(near, far), v = f64x2.sub(near, far);
  even1 = fused(u, v128.load(taps, 192), even1), odd1 = fused(v, v128.load(taps, 208), odd1);
  even2 = fused(u, v128.load(taps, 224), even2), odd2 = fused(v, v128.load(taps, 240), odd2);
  near = v128.load(at, 64), far = v128.load(at, 112), u = f64x2.add(near, far), v = f64x2.sub(near, far);
  even1 = fused(u, v128.load(taps, 256), even1), odd1 = fused(v, v128.load(taps, 272), odd1);
  even2 = fused(u, v128.load(taps, 288), even2), odd2 = fused(v, v128.load(taps, 304), odd2);
  near = v128.load(at, 80), far = v128.load(at, 96), u = f64x2.add(near, far), v = f64x2.sub(near, far);
  even1 = fused(u, v128.load(taps, 320), even1), odd1 = fused(v, v128.load(taps, 336), odd1);
  even2 = fused(u, v128.load(taps, 352), even2), odd2 = fused(v, v128.load(taps, 368), odd2);
  return f64x2.pmax(f64x2.add(f64x2.abs(even1), f64x2.abs(odd1)), f64x2.add(f64x2.abs(even2), f64x2.abs(odd2)));
}
