// What is asked of every sample of the stretches of two sides that are looked at again: powers, one level, one loudness. Held to the plain sums in
// stretchSums.test.ts.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

// @ts-ignore: decorator
@inline
function at(values: usize, i: u32): f64 {
  return load<f64>(values + (usize(i) << 3));
}

/** The sum of a vector's two lanes. */
// @ts-ignore: decorator
@inline
function total(sums: v128): f64 {
  return f64x2.extract_lane(sums, 0) + f64x2.extract_lane(sums, 1);
}

/** The sum of the squares of `count` values; four at a time, as each sum waits for the value before it. */
export function squares(values: usize, count: u32): f64 {
  let one = f64x2.splat(0);
  let other = f64x2.splat(0);
  const whole = count & ~3;
  for (let i: u32 = 0; i < whole; i += 4) {
    const from = values + (usize(i) << 3);
    const a = v128.load(from);
    const b = v128.load(from, 16);
    one = f64x2.add(one, f64x2.mul(a, a));
    other = f64x2.add(other, f64x2.mul(b, b));
  }
  let sum = total(one) + total(other);
  for (let i = whole; i < count; i++) sum += at(values, i) * at(values, i);
  return sum;
}

/** The largest magnitude of `count` values; 0 of none. */
export function largestMagnitude(values: usize, count: u32): f64 {
  let one = f64x2.splat(0);
  let other = f64x2.splat(0);
  const whole = count & ~3;
  for (let i: u32 = 0; i < whole; i += 4) {
    const from = values + (usize(i) << 3);
    one = f64x2.pmax(one, f64x2.abs(v128.load(from)));
    other = f64x2.pmax(other, f64x2.abs(v128.load(from, 16)));
  }
  one = f64x2.pmax(one, other);
  let largest = Math.max(f64x2.extract_lane(one, 0), f64x2.extract_lane(one, 1));
  for (let i = whole; i < count; i++) largest = Math.max(largest, Math.abs(at(values, i)));
  return largest;
}

/**
 * Where `count` values go through their mean, in values and to a fraction of one, each time they have gone beyond it by `share` of their usual distance after
 * having been beyond it on the other side. Returns how many; `most` are written, and one more counted where there are more.
 */
export function crossings(values: usize, count: u32, share: f64, most: u32, out: usize): u32 {
  let sum: f64 = 0;
  for (let i: u32 = 0; i < count; i++) sum += at(values, i);
  const mean = sum / f64(count);
  let size: f64 = 0;
  for (let i: u32 = 0; i < count; i++) size += Math.abs(at(values, i) - mean);
  const least = (share * size) / f64(count);
  let found: u32 = 0;
  let side: i32 = 0;
  let through: f64 = 0;
  let before = at(values, 0) - mean;
  for (let i: u32 = 1; i < count; i++) {
    const now = at(values, i) - mean;
    if (before < 0 != now < 0) through = f64(i - 1) + before / (before - now);
    before = now;
    const reached = now > least ? 1 : now < -least ? -1 : 0;
    if (reached == 0 || reached == side) continue;
    if (side != 0) {
      if (found == most) return most + 1;
      store<f64>(out + (usize(found++) << 3), through);
    }
    side = reached;
  }
  return found;
}

/**
 * The sums of the squares of one, of the squares of the other and of the products of both, three values at `sums`: of all but those where either is as large as its
 * ceiling, or larger.
 */
export function productsBelow(one: usize, other: usize, count: u32, ceiling: f64, otherCeiling: f64, sums: usize): void {
  const under = f64x2.splat(ceiling);
  const otherUnder = f64x2.splat(otherCeiling);
  let squares = f64x2.splat(0);
  let otherSquares = f64x2.splat(0);
  let products = f64x2.splat(0);
  for (let i: u32 = 0; i < count; i += 2) {
    const place = usize(i) << 3;
    const isLast = i + 1 === count;
    const a = isLast ? v128.load64_zero(one + place) : v128.load(one + place);
    const b = isLast ? v128.load64_zero(other + place) : v128.load(other + place);
    const isBelow = v128.and(f64x2.lt(f64x2.abs(a), under), f64x2.lt(f64x2.abs(b), otherUnder));
    const x = v128.and(a, isBelow);
    const y = v128.and(b, isBelow);
    squares = f64x2.add(squares, f64x2.mul(x, x));
    otherSquares = f64x2.add(otherSquares, f64x2.mul(y, y));
    products = f64x2.add(products, f64x2.mul(x, y));
  }
  store<f64>(sums, total(squares));
  store<f64>(sums, total(otherSquares), 8);
  store<f64>(sums, total(products), 16);
}

/** Adds `count` values to others; one more of these may be changed. */
export function add(sums: usize, values: usize, count: u32): void {
  for (let i: u32 = 0; i < count; i += 2) {
    const place = usize(i) << 3;
    v128.store(sums + place, f64x2.add(v128.load(sums + place), v128.load(values + place)));
  }
}

/** Each of `count` values so many times; one more may be changed. */
export function multiply(values: usize, count: u32, factor: f64): void {
  const factors = f64x2.splat(factor);
  for (let i: u32 = 0; i < count; i += 2) {
    const place = values + (usize(i) << 3);
    v128.store(place, f64x2.mul(v128.load(place), factors));
  }
}

/** The next of what `lessMeans` gives, near an end. Returns the sum of the values around it. */
// @ts-ignore: decorator
@inline
function lessMeanNearEnd(values: usize, i: u32, last: u32, half: u32, before: f64, share: f64, out: usize): f64 {
  const sum = before + (at(values, min(i + half, last)) - at(values, i > half ? i - half - 1 : 0));
  store<f64>(out + (usize(i) << 3), at(values, i) - share * sum);
  return sum;
}

/** out[i] = a value less the mean of it and of `half` values to either side; beyond either end it goes on as it is there. One value at least. */
export function lessMeans(values: usize, count: u32, half: u32, out: usize): void {
  const last = count - 1;
  const share = 1 / f64(2 * half + 1);
  let sum: f64 = f64(half + 1) * at(values, 0);
  for (let k: u32 = 0; k < half; k++) sum += at(values, min(k, last));
  const inner = min(half + 1, count);
  for (let i: u32 = 0; i < inner; i++) sum = lessMeanNearEnd(values, i, last, half, sum, share, out);
  let i = inner;
  const shares = f64x2.splat(share);
  const ahead = usize(half) << 3;
  const behind = usize(half + 1) << 3;
  // Four at a time, as each sum waits for the one before.
  for (; i + half + 3 <= last; i += 4) {
    const from = values + (usize(i) << 3);
    const one = f64x2.sub(v128.load(from + ahead), v128.load(from - behind));
    const next = f64x2.sub(v128.load(from + ahead, 16), v128.load(from - behind, 16));
    const nothing = f64x2.splat(0);
    const two = f64x2.add(one, v128.shuffle<f64>(nothing, one, 0, 2));
    const four = f64x2.add(f64x2.add(next, v128.shuffle<f64>(nothing, next, 0, 2)), v128.shuffle<f64>(two, two, 1, 1));
    const before = f64x2.splat(sum);
    const sums = f64x2.add(before, four);
    const to = out + (usize(i) << 3);
    v128.store(to, f64x2.sub(v128.load(from), f64x2.mul(shares, f64x2.add(before, two))));
    v128.store(to, f64x2.sub(v128.load(from, 16), f64x2.mul(shares, sums)), 16);
    sum = f64x2.extract_lane(sums, 1);
  }
  for (; i < count; i++) sum = lessMeanNearEnd(values, i, last, half, sum, share, out);
}

/** The next of the means near an end. Returns the sum of the pairs around it. */
// @ts-ignore: decorator
@inline
function meanNearEnd(pairs: usize, i: u32, count: u32, half: u32, before: v128, out: usize): v128 {
  const enters = i + half < count;
  const leaves = i > half;
  let sum = before;
  if (enters) sum = f64x2.add(sum, v128.load(pairs + (usize(i + half) << 4)));
  if (leaves) sum = f64x2.sub(sum, v128.load(pairs + (usize(i - half - 1) << 4)));
  const some = (enters ? i + half : count - 1) - (leaves ? i - half : 0) + 1;
  v128.store(out + (usize(i) << 4), f64x2.div(f64x2.pmax(f64x2.splat(0), sum), f64x2.splat(f64(some))));
  return sum;
}

/** The means of pairs of values over `half` pairs to either side, none of them under 0; of fewer at either end. */
function smooth(pairs: usize, count: u32, half: u32, out: usize): void {
  const nothing = f64x2.splat(0);
  const share = f64x2.splat(1 / f64(2 * half + 1));
  let sum = nothing;
  for (let i: u32 = 0; i < min(half, count); i++) sum = f64x2.add(sum, v128.load(pairs + (usize(i) << 4)));
  const inner = min(half + 1, count);
  for (let i: u32 = 0; i < inner; i++) sum = meanNearEnd(pairs, i, count, half, sum, out);
  const outer = max(inner, count > half ? count - half : 0);
  let from = pairs + (usize(inner) << 4);
  const end = pairs + (usize(outer) << 4);
  const ahead = usize(half) << 4;
  const behind = usize(half + 1) << 4;
  for (let to = out + (usize(inner) << 4); from < end; from += 16, to += 16) {
    sum = f64x2.add(sum, f64x2.sub(v128.load(from + ahead), v128.load(from - behind)));
    v128.store(to, f64x2.mul(f64x2.pmax(nothing, sum), share));
  }
  for (let i = outer; i < count; i++) sum = meanNearEnd(pairs, i, count, half, sum, out);
}

/**
 * The powers of `count` values of two sides around each of them: squares, smoothed twice over `half` values to either side. `pairs` and `room` have room for
 * both; the powers of either side replace its values.
 */
export function powersAround(left: usize, right: usize, count: u32, half: u32, pairs: usize, room: usize): void {
  for (let i: u32 = 0; i < count; i++) {
    const place = usize(i) << 3;
    const both = v128.load64_lane(right + place, v128.load64_zero(left + place), 1);
    v128.store(pairs + 2 * place, f64x2.mul(both, both));
  }
  smooth(pairs, count, half, room);
  smooth(room, count, half, pairs);
  for (let i: u32 = 0; i < count; i++) {
    const place = usize(i) << 3;
    const both = v128.load(pairs + 2 * place);
    store<f64>(left + place, f64x2.extract_lane(both, 0));
    store<f64>(right + place, f64x2.extract_lane(both, 1));
  }
}

/** Each of `count` values times the root of what another's power is of its own, as it is where either is nothing. */
export function evenOut(values: usize, powers: usize, others: usize, count: u32): void {
  const nothing = f64x2.splat(0);
  const one = f64x2.splat(1);
  const whole = count & ~1;
  for (let i: u32 = 0; i < whole; i += 2) {
    const place = usize(i) << 3;
    const own = v128.load(powers + place);
    const other = v128.load(others + place);
    const isHeard = v128.and(f64x2.gt(own, nothing), f64x2.gt(other, nothing));
    const factor = v128.bitselect(f64x2.sqrt(f64x2.div(other, own)), one, isHeard);
    v128.store(values + place, f64x2.mul(v128.load(values + place), factor));
  }
  if (whole === count) return;
  const own = at(powers, whole);
  const other = at(others, whole);
  if (own > 0 && other > 0) store<f64>(values + (usize(whole) << 3), at(values, whole) * Math.sqrt(other / own));
}
