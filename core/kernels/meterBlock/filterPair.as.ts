// Energies of a block through filters.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

import { FRAME, SPEECH, SPEECH_PRODUCT, WEIGHTED } from './layout.as';

const STATE_FLOOR: f64 = 1e-30;

/**
 * Energy after the K-weighting: a shelf, then a high-pass whose numerator is 1 -2 1, as second-order sections. Each is
 * the transposed direct form II with its output put into its state equations: with c = b - a b0,
 * s1' = (c1 x + s2) - a1 s1 and s2' = c2 x - a2 s1. That leaves one product and one sum between a state and the next, where
 * going by way of the output has a sum more, and those waits are what the time goes to.
 * `coefficients`: c1 c2 a1 a2 of the shelf divided by its b0, and of the high-pass; `state`: four vectors. The caller scales by
 * the gain left out.
 */
export function weightPair(block: usize, frames: u32, coefficients: usize, state: usize, sums: usize): void {
  const c1 = v128.load64_splat(coefficients), c2 = v128.load64_splat(coefficients, 8);
  const a1 = v128.load64_splat(coefficients, 16), a2 = v128.load64_splat(coefficients, 24);
  const d1 = v128.load64_splat(coefficients, 32), d2 = v128.load64_splat(coefficients, 40);
  const e1 = v128.load64_splat(coefficients, 48), e2 = v128.load64_splat(coefficients, 56);
  let p1 = v128.load(state), p2 = v128.load(state, 16), q1 = v128.load(state, 32), q2 = v128.load(state, 48);
  let energy = f64x2.splat(0);
  const end = block + usize(frames) * FRAME;
  for (let at = block; at < end; at += FRAME) {
    const x = v128.load(at);
    const y = f64x2.add(x, p1);
    const z = f64x2.add(y, q1);
    const p = p1, q = q1;
    p1 = f64x2.sub(f64x2.add(f64x2.mul(c1, x), p2), f64x2.mul(a1, p));
    p2 = f64x2.sub(f64x2.mul(c2, x), f64x2.mul(a2, p));
    q1 = f64x2.sub(f64x2.add(f64x2.mul(d1, y), q2), f64x2.mul(e1, q));
    q2 = f64x2.sub(f64x2.mul(d2, y), f64x2.mul(e2, q));
    energy = f64x2.add(energy, f64x2.mul(z, z));
  }
  v128.store(state, settle(p1));
  v128.store(state, settle(p2), 16);
  v128.store(state, settle(q1), 32);
  v128.store(state, settle(q2), 48);
  v128.store(sums, energy, WEIGHTED);
}

/**
 * Energy and product in the speech band: means of `step` samples through a high-pass (numerator 1 -2 1) and a
 * low-pass (1 2 1). `coefficients`: a1 a2 of each. The caller scales by the gains it left out.
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
  let energy = f64x2.splat(0);
  let product = f64x2.splat(0);
  for (let i: u32 = 0; i < count; i++) {
    const x = sumOf(block, step);
    block += usize(step) * FRAME;
    const y = f64x2.add(x, p1);
    p1 = f64x2.sub(f64x2.sub(p2, f64x2.add(x, x)), f64x2.mul(a1, y));
    p2 = f64x2.sub(x, f64x2.mul(a2, y));
    const z = f64x2.add(y, q1);
    q1 = f64x2.sub(f64x2.add(q2, f64x2.add(y, y)), f64x2.mul(c1, z));
    q2 = f64x2.sub(y, f64x2.mul(c2, z));
    energy = f64x2.add(energy, f64x2.mul(z, z));
    product = f64x2.add(product, f64x2.mul(z, v128.shuffle<i64>(z, z, 1, 0)));
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
