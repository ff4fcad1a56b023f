// A copy of a sound whose delay moves, and what is left of what holds it. Held to plain sums in movingCopy.test.ts.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

import { fused } from './fused.as';

// @ts-ignore: decorator
@inline
function at(values: usize, i: u32): f64 {
  return load<f64>(values + (usize(i) << 3));
}

/** Rise a sample of `count` values, by central differences of eighth order; 0 within four of either end. */
export function derivative(sound: usize, count: u32, out: usize): void {
  memory.fill(out, 0, usize(count) << 3);
  for (let i: u32 = 4; i + 4 < count; i++) {
    const here = sound + (usize(i) << 3);
    let sum: f64 = (4.0 / 5.0) * (load<f64>(here, 8) - load<f64>(here - 8));
    sum += (-1.0 / 5.0) * (load<f64>(here, 16) - load<f64>(here - 16));
    sum += (4.0 / 105.0) * (load<f64>(here, 24) - load<f64>(here - 24));
    sum += (-1.0 / 280.0) * (load<f64>(here, 32) - load<f64>(here - 32));
    store<f64>(out + (usize(i) << 3), sum);
  }
}

/**
 * copy[i] = the reference `delay` earlier and bend[i] = how it rises there, for i = 0 up to `count`. The delay goes along a straight line from each of `delays`
 * to the next, `step` samples on. `reference` and `slope` are at sample 0, with more before and after; `table` holds taps (an even number) for each of `steps`
 * places between a sample and the next, and for the next.
 */
export function follow(
  reference: usize,
  slope: usize,
  table: usize,
  taps: u32,
  steps: f64,
  delays: usize,
  places: u32,
  step: f64,
  count: u32,
  copy: usize,
  bend: usize,
): void {
  const before = i32(taps >> 1) - 1;
  for (let i: u32 = 0; i < count; i++) {
    const place = min(places - 2, u32(f64(i) / step));
    const share = f64(i) / step - f64(place);
    const delay = at(delays, place);
    const exact = f64(i) - (delay + share * (at(delays, place + 1) - delay));
    const whole = floor(exact);
    let tap = table + (usize(floor((exact - whole) * steps + 0.5)) * usize(taps) << 3);
    const first = (i32(whole) - before) << 3;
    let from = reference + first;
    let rising = slope + first;
    let values = f64x2.splat(0);
    let rises = f64x2.splat(0);
    for (let k: u32 = 0; k < taps; k += 2) {
      const weights = v128.load(tap);
      values = fused(weights, v128.load(from), values);
      rises = fused(weights, v128.load(rising), rises);
      tap += 16;
      from += 16;
      rising += 16;
    }
    const to = usize(i) << 3;
    store<f64>(copy + to, f64x2.extract_lane(values, 0) + f64x2.extract_lane(values, 1));
    store<f64>(bend + to, f64x2.extract_lane(rises, 0) + f64x2.extract_lane(rises, 1));
  }
}

/** Of the reference a, its copy b and the other x: sums of aa, ab, bb, ax and bx over `count` samples. */
export function products(reference: usize, copy: usize, other: usize, count: u32, out: usize): void {
  let aa: f64 = 0;
  let ab: f64 = 0;
  let bb: f64 = 0;
  let ax: f64 = 0;
  let bx: f64 = 0;
  for (let i: u32 = 0; i < count; i++) {
    const a = at(reference, i);
    const b = at(copy, i);
    const x = at(other, i);
    aa += a * a;
    ab += a * b;
    bb += b * b;
    ax += a * x;
    bx += b * x;
  }
  store<f64>(out, aa);
  store<f64>(out, ab, 8);
  store<f64>(out, bb, 16);
  store<f64>(out, ax, 24);
  store<f64>(out, bx, 32);
}

/** What is left of the other's power with the reference and its copy taken off. */
export function powerLeft(reference: usize, copy: usize, other: usize, count: u32, direct: f64, moving: f64): f64 {
  let sum: f64 = 0;
  for (let i: u32 = 0; i < count; i++) {
    const left = at(other, i) - direct * at(reference, i) - moving * at(copy, i);
    sum += left * left;
  }
  return sum;
}

/**
 * The normal equations of a step of each delay that leaves less (Gauss and Newton): what is left is r, and r(d + e) = r + moving bend e. Each sample speaks for the
 * places on either side of it: `diagonal` and `beside` it are all that is not 0.
 */
export function stepEquations(
  reference: usize,
  copy: usize,
  bend: usize,
  other: usize,
  count: u32,
  direct: f64,
  moving: f64,
  places: u32,
  step: f64,
  diagonal: usize,
  beside: usize,
  right: usize,
): void {
  const width = usize(places) << 3;
  memory.fill(diagonal, 0, width);
  memory.fill(beside, 0, width);
  memory.fill(right, 0, width);
  for (let i: u32 = 0; i < count; i++) {
    const place = min(places - 2, u32(f64(i) / step));
    const share = f64(i) / step - f64(place);
    const left = at(other, i) - direct * at(reference, i) - moving * at(copy, i);
    const before = -moving * at(bend, i) * (1 - share);
    const after = -moving * at(bend, i) * share;
    const on = usize(place) << 3;
    store<f64>(diagonal + on, load<f64>(diagonal + on) + before * before);
    store<f64>(beside + on, load<f64>(beside + on) + before * after);
    store<f64>(diagonal + on, load<f64>(diagonal + on, 8) + after * after, 8);
    store<f64>(right + on, load<f64>(right + on) + before * left);
    store<f64>(right + on, load<f64>(right + on, 8) + after * left, 8);
  }
}
