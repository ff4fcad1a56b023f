// Normal numbers as signal/random.ts makes them one by one, two at a time. Held to those in gaussians.test.ts.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

import { fused } from './fused.as';

// What the uniform numbers' state goes on by.
const STEP: i32 = 0x9e3779b9;

/** Four uniform numbers, as whole numbers up to 2^32, of four states. */
// @ts-ignore: decorator
@inline
function mixed(states: v128): v128 {
  let x = states;
  x = i32x4.mul(v128.xor(x, i32x4.shr_u(x, 16)), i32x4.splat(0x85ebca6b));
  x = i32x4.mul(v128.xor(x, i32x4.shr_u(x, 13)), i32x4.splat(0xc2b2ae35));
  return v128.xor(x, i32x4.shr_u(x, 16));
}

/** The next step of a sum of powers, by coefficients from the last to the first (Horner). */
// @ts-ignore: decorator
@inline
function term(sum: v128, x: v128, coefficient: f64): v128 {
  return fused(sum, x, f64x2.splat(coefficient));
}

/** Logarithms of values beyond 0: of the power of two at once, of what is left, within a root of two of 1, by the series of 2 artanh((m - 1) / (m + 1)). */
// @ts-ignore: decorator
@inline
function logarithms(values: v128): v128 {
  // Of the root of one half.
  const least = i64x2.splat(0x3fe6a09e667f3bcd);
  const powers = i64x2.shr_s(i64x2.sub(values, least), 52);
  const rest = i64x2.sub(values, i64x2.shl(powers, 52));
  const whole = f64x2.convert_low_i32x4_s(v128.shuffle<i32>(powers, powers, 0, 2, 0, 2));
  const one = f64x2.splat(1);
  const z = f64x2.div(f64x2.sub(rest, one), f64x2.add(rest, one));
  const square = f64x2.mul(z, z);
  let sum = f64x2.splat(2.0 / 21);
  sum = term(sum, square, 2.0 / 19);
  sum = term(sum, square, 2.0 / 17);
  sum = term(sum, square, 2.0 / 15);
  sum = term(sum, square, 2.0 / 13);
  sum = term(sum, square, 2.0 / 11);
  sum = term(sum, square, 2.0 / 9);
  sum = term(sum, square, 2.0 / 7);
  sum = term(sum, square, 2.0 / 5);
  sum = term(sum, square, 2.0 / 3);
  sum = term(sum, square, 2);
  return fused(z, sum, f64x2.mul(whole, f64x2.splat(Math.LN2)));
}

/** Cosines of so much of a turn, 0 to 1: twice the square of the sine of half of it from its middle, less 1; the sine by its series. */
// @ts-ignore: decorator
@inline
function cosines(turns: v128): v128 {
  const x = f64x2.mul(f64x2.sub(turns, f64x2.splat(0.5)), f64x2.splat(Math.PI));
  const square = f64x2.mul(x, x);
  let sum = f64x2.splat(1.0 / 51090942171709440000.0);
  sum = term(sum, square, -1.0 / 121645100408832000.0);
  sum = term(sum, square, 1.0 / 355687428096000.0);
  sum = term(sum, square, -1.0 / 1307674368000);
  sum = term(sum, square, 1.0 / 6227020800);
  sum = term(sum, square, -1.0 / 39916800);
  sum = term(sum, square, 1.0 / 362880);
  sum = term(sum, square, -1.0 / 5040);
  sum = term(sum, square, 1.0 / 120);
  sum = term(sum, square, -1.0 / 6);
  sum = term(sum, square, 1);
  const sine = f64x2.mul(sum, x);
  return f64x2.sub(f64x2.mul(f64x2.add(sine, sine), sine), f64x2.splat(1));
}

/** Writes `count` of them, an even number, each times `deviation` (Box and Muller, 1958). Returns the state of the uniform numbers after them. */
export function gaussians(out: usize, count: u32, deviation: f64, seed: i32): i32 {
  let states = i32x4(seed + STEP, seed + 2 * STEP, seed + 3 * STEP, seed + 4 * STEP);
  const further = i32x4.splat(4 * STEP);
  const share = f64x2.splat(1.0 / 4294967296.0);
  const one = f64x2.splat(1);
  for (const end = out + (usize(count) << 3); out < end; out += 16) {
    const words = mixed(states);
    const firsts = f64x2.mul(f64x2.convert_low_i32x4_u(v128.shuffle<i32>(words, words, 0, 2, 0, 2)), share);
    const others = f64x2.mul(f64x2.convert_low_i32x4_u(v128.shuffle<i32>(words, words, 1, 3, 1, 3)), share);
    const radius = f64x2.sqrt(f64x2.mul(f64x2.splat(-2), logarithms(f64x2.sub(one, firsts))));
    v128.store(out, f64x2.mul(f64x2.splat(deviation), f64x2.mul(radius, cosines(others))));
    states = i32x4.add(states, further);
  }
  return i32x4.extract_lane(states, 0) - STEP;
}
