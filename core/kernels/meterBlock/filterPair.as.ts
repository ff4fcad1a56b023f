// Energies of a piece of a block through filters, added to what its sums hold.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

import { fused, lessFused } from '../fused.as';
import { FRAME, SPEECH, SPEECH_PRODUCT, WEIGHTED } from './layout.as';

const STATE_FLOOR: f64 = 1e-30;

/**
 * Energy after the K-weighting: a shelf, then a high-pass whose numerator is 1 -2 1. That numerator is two differences, taken of the words first, where
 * they are exact and cost no product. With its b0 at 1 the shelf is its input plus c1 p, where c = b - a, and the next p is x + (c2 / c1) x before
 * - a1 p - a2 p before. So a single fused step lies between a value and the next that waits for it, in either.
 * `frames`: a multiple of four, and three lie before them; `weightFrame` takes what is left over. `coefficients`: c1 and c2 / c1 of the shelf, a1 a2 of the
 * shelf, a1 a2 of the high-pass; `state`: four vectors. The caller scales by the gain left out.
 */
export function weightPair(block: usize, frames: u32, coefficients: usize, state: usize, sums: usize): void {
  const c1 = v128.load64_splat(coefficients), c = v128.load64_splat(coefficients, 8);
  const a1 = v128.load64_splat(coefficients, 16), a2 = v128.load64_splat(coefficients, 24);
  const e1 = v128.load64_splat(coefficients, 32), e2 = v128.load64_splat(coefficients, 40);
  let p1 = v128.load(state), p2 = v128.load(state, 16), z1 = v128.load(state, 32), z2 = v128.load(state, 48);
  let energy = v128.load(sums, WEIGHTED);
  let at = block - 3 * FRAME;
  let rise = f64x2.sub(v128.load(at, 2 * FRAME), v128.load(at, FRAME)), x2 = bendAt(block - FRAME);
  const end = at + usize(frames) * FRAME;
  // Four frames a round: what is before becomes what is after without being moved. The frame before is loaded once more, as a register is worth more.
  for (; at < end; at += 4 * FRAME) {
    let sample = v128.load(at, 3 * FRAME);
    let step = f64x2.sub(sample, v128.load(at, 2 * FRAME));
    let x1 = f64x2.sub(step, rise);
    z2 = resonated(fused(c1, p1, x1), e1, z1, e2, z2);
    p2 = resonated(fused(c, x2, x1), a1, p1, a2, p2);
    energy = fused(z2, z2, energy);
    rise = f64x2.sub(v128.load(at, 4 * FRAME), sample);
    x2 = f64x2.sub(rise, step);
    z1 = resonated(fused(c1, p2, x2), e1, z2, e2, z1);
    p1 = resonated(fused(c, x1, x2), a1, p2, a2, p1);
    energy = fused(z1, z1, energy);
    sample = v128.load(at, 5 * FRAME);
    step = f64x2.sub(sample, v128.load(at, 4 * FRAME));
    x1 = f64x2.sub(step, rise);
    z2 = resonated(fused(c1, p1, x1), e1, z1, e2, z2);
    p2 = resonated(fused(c, x2, x1), a1, p1, a2, p2);
    energy = fused(z2, z2, energy);
    rise = f64x2.sub(v128.load(at, 6 * FRAME), sample);
    x2 = f64x2.sub(rise, step);
    z1 = resonated(fused(c1, p2, x2), e1, z2, e2, z1);
    p1 = resonated(fused(c, x1, x2), a1, p2, a2, p1);
    energy = fused(z1, z1, energy);
  }
  v128.store(state, settle(p1));
  v128.store(state, settle(p2), 16);
  v128.store(state, settle(z1), 32);
  v128.store(state, settle(z2), 48);
  v128.store(sums, energy, WEIGHTED);
}

/** One more frame. A function of its own: a second loop in the first costs it registers, and a seventh of its time. */
export function weightFrame(at: usize, coefficients: usize, state: usize, sums: usize): void {
  const c1 = v128.load64_splat(coefficients), c = v128.load64_splat(coefficients, 8);
  const a1 = v128.load64_splat(coefficients, 16), a2 = v128.load64_splat(coefficients, 24);
  const e1 = v128.load64_splat(coefficients, 32), e2 = v128.load64_splat(coefficients, 40);
  const p1 = v128.load(state), p2 = v128.load(state, 16), z1 = v128.load(state, 32), z2 = v128.load(state, 48);
  const x2 = bendAt(at - FRAME), x1 = bendAt(at);
  const z = resonated(fused(c1, p1, x1), e1, z1, e2, z2);
  v128.store(state, resonated(fused(c, x2, x1), a1, p1, a2, p2));
  v128.store(state, p1, 16);
  v128.store(state, z, 32);
  v128.store(state, z1, 48);
  v128.store(sums, fused(z, z, v128.load(sums, WEIGHTED)), WEIGHTED);
}

/** The difference of the last two differences. */
// @ts-ignore: decorator
@inline
function bendAt(at: usize): v128 {
  return f64x2.sub(f64x2.sub(v128.load(at), v128.load(at - FRAME)), f64x2.sub(v128.load(at - FRAME), v128.load(at - 2 * FRAME)));
}

/** A sample through two poles; only the last product waits for the value before it. */
// @ts-ignore: decorator
@inline
function resonated(sample: v128, e1: v128, z1: v128, e2: v128, z2: v128): v128 {
  return lessFused(e1, z1, lessFused(e2, z2, sample));
}

/**
 * Energy and product in the speech band: means of `step` samples through a high-pass (numerator 1 -2 1) and a low-pass (1 2 1), in the transposed direct
 * form II, which needs the fewest registers. `coefficients`: a1 a2 of each; `state`: four vectors. The caller scales by the gains it left out.
 */
export function speechPair(block: usize, frames: u32, step: u32, coefficients: usize, state: usize, sums: usize): void {
  // The steps of the usual rates are written out; each becomes a loop of its own.
  if (step == 4) speechBand(block, frames / 4, 4, coefficients, state, sums);
  else if (step == 3) speechBand(block, frames / 3, 3, coefficients, state, sums);
  else speechBand(block, frames / step, step, coefficients, state, sums);
}

// @ts-ignore: decorator
@inline
function speechBand(block: usize, count: u32, step: u32, coefficients: usize, state: usize, sums: usize): void {
  const a1 = v128.load64_splat(coefficients), a2 = v128.load64_splat(coefficients, 8);
  const c1 = v128.load64_splat(coefficients, 16), c2 = v128.load64_splat(coefficients, 24);
  let p1 = v128.load(state), p2 = v128.load(state, 16), q1 = v128.load(state, 32), q2 = v128.load(state, 48);
  let energy = v128.load(sums, SPEECH);
  let product = v128.load64_zero(sums, SPEECH_PRODUCT);
  for (let i: u32 = 0; i < count; i++) {
    const x = sumOf(block, step);
    block += usize(step) * FRAME;
    const y = f64x2.add(x, p1);
    p1 = lessFused(a1, y, f64x2.sub(p2, f64x2.add(x, x)));
    p2 = lessFused(a2, y, x);
    const z = f64x2.add(y, q1);
    q1 = lessFused(c1, z, f64x2.add(q2, f64x2.add(y, y)));
    q2 = lessFused(c2, z, y);
    energy = fused(z, z, energy);
    product = fused(z, v128.shuffle<i64>(z, z, 1, 0), product);
  }
  v128.store(state, settle(p1));
  v128.store(state, settle(p2), 16);
  v128.store(state, settle(q1), 32);
  v128.store(state, settle(q2), 48);
  v128.store(sums, energy, SPEECH);
  store<f64>(sums, f64x2.extract_lane(product, 0), SPEECH_PRODUCT);
}

// @ts-ignore: decorator
@inline
function sumOf(block: usize, step: u32): v128 {
  if (step == 4) return f64x2.add(f64x2.add(v128.load(block), v128.load(block, 16)), f64x2.add(v128.load(block, 32), v128.load(block, 48)));
  if (step == 3) return f64x2.add(f64x2.add(v128.load(block), v128.load(block, 16)), v128.load(block, 32));
  let sum = v128.load(block);
  for (let k: u32 = 1; k < step; k++) sum = f64x2.add(sum, v128.load(block + usize(k) * FRAME));
  return sum;
}

/** Inaudible rests of filter state would turn into denormals and slow everything down. */
// @ts-ignore: decorator
@inline
function settle(state: v128): v128 {
  return v128.and(state, f64x2.ge(f64x2.abs(state), f64x2.splat(STATE_FLOOR)));
}
