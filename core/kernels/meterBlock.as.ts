// The hot loops of measuring. Two channels travel together, one in each lane of a vector: frame i
// of a pair is the 16 bytes [left, right] as 64-bit floats. A lone last channel has zeros beside it.
// Each loop is held to the plain version in core/test/referenceMeter.ts.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

const FRAME: usize = 16;
const BUCKET_FRAMES: u32 = 256;
const HISTORY: usize = 11;
const GROUP: usize = 16;
const STATE_FLOOR: f64 = 1e-30;
// As in core/pcm/decodeWords.ts: beyond it squares would overflow on their way through the filters, and no sound is that loud.
const LARGEST_FLOAT: f64 = 1e30;

// --- Words to pairs -------------------------------------------------------------------------

/**
 * Decodes one pair out of interleaved words, full scale at 1.
 * `kind`: 0 unsigned 8 bit, 1 to 3 signed 16, 24 and 32 bit, 4 and 5 float 32 and 64 bit.
 * Reads up to eight bytes past the last word. Returns how many values were not finite (written as 0).
 */
export function decodePair(input: usize, kind: u32, frameBytes: u32, wordBytes: u32, frames: u32, out: usize, both: bool): u32 {
  if (both && kind >= 1 && kind <= 3) {
    if (kind == 2 && frameBytes == 6) decodeStereo24(input, frames, out);
    else if (kind == 1) decodeIntegers(input, 1, frameBytes, frames, out);
    else if (kind == 2) decodeIntegers(input, 2, frameBytes, frames, out);
    else decodeIntegers(input, 3, frameBytes, frames, out);
    return 0;
  }
  let notFinite: u32 = 0;
  for (let i: u32 = 0; i < frames; i++) {
    const left = decodeWord(input, kind);
    const right = both ? decodeWord(input + wordBytes, kind) : 0;
    if (kind >= 4) {
      const leftIsSound = abs(left) < LARGEST_FLOAT, rightIsSound = abs(right) < LARGEST_FLOAT;
      notFinite += u32(!leftIsSound) + u32(!rightIsSound);
      store<f64>(out, leftIsSound ? left : 0);
      store<f64>(out, rightIsSound ? right : 0, 8);
    } else {
      store<f64>(out, left);
      store<f64>(out, right, 8);
    }
    input += frameBytes;
    out += FRAME;
  }
  return notFinite;
}

// @ts-ignore: decorator
@inline
function decodeWord(at: usize, kind: u32): f64 {
  switch (kind) {
    case 0: return (f64(load<u8>(at)) - 128) / 128;
    case 1: return f64(load<i16>(at)) / 32768;
    case 2: return f64(i32(load<u16>(at)) | (i32(load<i8>(at, 2)) << 16)) / 8388608;
    case 3: return f64(load<i32>(at)) / 2147483648;
    case 4: return f64(load<f32>(at));
    default: return load<f64>(at);
  }
}

/** Two neighbouring words out of wider frames; with `kind` known, each use becomes a loop of its own. */
// @ts-ignore: decorator
@inline
function decodeIntegers(input: usize, kind: u32, frameBytes: u32, frames: u32, out: usize): void {
  const scale = f64x2.splat(kind == 1 ? 1.0 / 32768.0 : 1.0 / 2147483648.0);
  const end = out + usize(frames) * FRAME;
  for (; out < end; out += FRAME) {
    let words: v128;
    if (kind == 1) words = i32x4.extend_low_i16x8_s(v128.load32_zero(input));
    else if (kind == 2) words = spread24(v128.load64_zero(input));
    else words = v128.load64_zero(input);
    v128.store(out, f64x2.mul(f64x2.convert_low_i32x4_s(words), scale));
    input += frameBytes;
  }
}

/** Each 24-bit word goes to the upper three bytes of 32; the shift leaves its low byte clear. */
// @ts-ignore: decorator
@inline
function spread24(bytes: v128): v128 {
  return i32x4.shl(i32x4.shr_s(v128.shuffle<i8>(bytes, bytes, 0, 0, 1, 2, 0, 3, 4, 5, 0, 6, 7, 8, 0, 9, 10, 11), 8), 8);
}

/** Two frames of 24-bit stereo are twelve bytes: one shuffle spreads them over four 32-bit lanes. */
function decodeStereo24(input: usize, frames: u32, out: usize): void {
  const scale = f64x2.splat(1.0 / 2147483648.0);
  let i: u32 = 0;
  for (; i + 2 <= frames; i += 2) {
    const words = spread24(v128.load(input));
    v128.store(out, f64x2.mul(f64x2.convert_low_i32x4_s(words), scale));
    v128.store(out, f64x2.mul(f64x2.convert_low_i32x4_s(v128.shuffle<i32>(words, words, 2, 3, 2, 3)), scale), 16);
    input += 12;
    out += 2 * FRAME;
  }
  if (i < frames) {
    store<f64>(out, decodeWord(input, 2));
    store<f64>(out, decodeWord(input + 3, 2), 8);
  }
}

// --- Sums, extremes, clipping, silence, outline ----------------------------------------------

// Offsets into a pair's `scan` state, kept from block to block.
const PEAK: usize = 0;
const BUCKET_MIN: usize = 16;
const BUCKET_MAX: usize = 32;
const BUCKET_SQUARES: usize = 48;
const BUCKET_DIFFERENCE_MAX: usize = 64; // [largest left - right, largest right - left]
const BUCKET_DIFFERENCE_SQUARES: usize = 80;
const FULL_RUN: usize = 96; // i32 a lane: samples in a row at full scale
const CLIPPED: usize = 104; // u32 a lane, in this block
const ZERO_RUN: usize = 112; // f64 a lane: samples in a row that are exactly zero
const LONGEST_ZERO_RUN: usize = 128;
const FIRST_ZERO_RUN: usize = 144; // -1 while there was nothing but zeros
const TRUE_PEAK: usize = 160;
const BEFORE: usize = 176; // the largest magnitudes that the interpolation of what comes next still reaches

// Offsets into a pair's sums of one block.
const SUM: usize = 0;
const SQUARES: usize = 16;
const PRODUCT: usize = 32;
const DIFFERENCE_SQUARES: usize = 40;
const WEIGHTED: usize = 48;
const SPEECH: usize = 64;
const SPEECH_PRODUCT: usize = 80;
const CLIPPED_NOW: usize = 88; // a lane each

/**
 * One pass over a block of one pair, and over what may hold its true peak. Whole outline buckets are written as [minimum, maximum, sum of squares]
 * for the left lane at `buckets`, the right lane 24 bytes on, the difference at `differenceAt` from there; the next bucket is
 * `bucketBytes` on. Returns the frames in the bucket that stays open.
 *
 * Two frames at a time, a vector a side. The sum of products follows from the three sums of squares; as all three add
 * in the same order it is exact where a side is empty, equal or inverted.
 */
export function scanPair(
  block: usize, frames: u32, state: usize, sums: usize, ceiling: f64, both: bool,
  bucketFrames: u32, buckets: usize, bucketBytes: u32, differenceAt: u32, taps: usize,
): u32 {
  let totalSum = f64x2.splat(0);
  let totalSquares = f64x2.splat(0);
  let totalDifference: f64 = 0;
  let peak = v128.load(state, PEAK), truePeak = v128.load(state, TRUE_PEAK), before = v128.load(state, BEFORE);
  const bounds = v128.load64_splat(taps, BOUND);
  store<u64>(state, 0, CLIPPED);
  let at = block;
  let left = frames;
  while (left > 0) {
    const count = min(left, BUCKET_FRAMES - bucketFrames);
    const end = at + usize(count) * FRAME;
    let leftLow = v128.load64_splat(at), leftHigh = leftLow;
    let rightLow = v128.load64_splat(at, 8), rightHigh = rightLow;
    let differenceLow = f64x2.sub(leftLow, rightLow), differenceHigh = differenceLow;
    let leftSum = f64x2.splat(0), rightSum = leftSum;
    let leftSquares = leftSum, rightSquares = leftSum, differenceSquares = leftSum;
    let p = at;
    for (; p + 2 * FRAME <= end; p += 2 * FRAME) {
      const first = v128.load(p), second = v128.load(p, FRAME);
      const l = v128.shuffle<i64>(first, second, 0, 2), r = v128.shuffle<i64>(first, second, 1, 3);
      const difference = f64x2.sub(l, r);
      leftSum = f64x2.add(leftSum, l);
      rightSum = f64x2.add(rightSum, r);
      leftSquares = f64x2.add(leftSquares, f64x2.mul(l, l));
      rightSquares = f64x2.add(rightSquares, f64x2.mul(r, r));
      differenceSquares = f64x2.add(differenceSquares, f64x2.mul(difference, difference));
      leftLow = f64x2.pmin(leftLow, l);
      leftHigh = f64x2.pmax(leftHigh, l);
      rightLow = f64x2.pmin(rightLow, r);
      rightHigh = f64x2.pmax(rightHigh, r);
      differenceLow = f64x2.pmin(differenceLow, difference);
      differenceHigh = f64x2.pmax(differenceHigh, difference);
    }
    if (p < end) {
      const l = v128.load64_zero(p), r = v128.load64_zero(p, 8);
      const difference = f64x2.sub(l, r);
      leftSum = f64x2.add(leftSum, l);
      rightSum = f64x2.add(rightSum, r);
      leftSquares = f64x2.add(leftSquares, f64x2.mul(l, l));
      rightSquares = f64x2.add(rightSquares, f64x2.mul(r, r));
      differenceSquares = f64x2.add(differenceSquares, f64x2.mul(difference, difference));
      const l2 = v128.load64_splat(p), r2 = v128.load64_splat(p, 8), difference2 = f64x2.sub(l2, r2);
      leftLow = f64x2.pmin(leftLow, l2);
      leftHigh = f64x2.pmax(leftHigh, l2);
      rightLow = f64x2.pmin(rightLow, r2);
      rightHigh = f64x2.pmax(rightHigh, r2);
      differenceLow = f64x2.pmin(differenceLow, difference2);
      differenceHigh = f64x2.pmax(differenceHigh, difference2);
    }
    const smallest = lower(leftLow, rightLow), largest = higher(leftHigh, rightHigh);
    const squares = bothSums(leftSquares, rightSquares);
    const difference = f64x2.extract_lane(differenceSquares, 0) + f64x2.extract_lane(differenceSquares, 1);
    totalSum = f64x2.add(totalSum, bothSums(leftSum, rightSum));
    totalSquares = f64x2.add(totalSquares, squares);
    totalDifference += difference;
    const extreme = f64x2.pmax(f64x2.abs(smallest), f64x2.abs(largest));
    peak = f64x2.pmax(peak, extreme);
    truePeak = f64x2.pmax(truePeak, extreme);
    before = f64x2.pmax(before, extreme);
    if (v128.any_true(f64x2.gt(f64x2.mul(before, bounds), truePeak))) truePeak = interpolatedPeak(at, count, truePeak, taps);
    if (usize(count) >= HISTORY) before = extreme;
    noteLane(at, count, state, 0, f64x2.extract_lane(extreme, 0), ceiling);
    if (both) noteLane(at + 8, count, state, 1, f64x2.extract_lane(extreme, 1), ceiling);

    // [largest left - right, largest right - left]
    const apart = higher(differenceHigh, f64x2.neg(differenceLow));
    if (bucketFrames == 0) {
      v128.store(state, smallest, BUCKET_MIN);
      v128.store(state, largest, BUCKET_MAX);
      v128.store(state, squares, BUCKET_SQUARES);
      v128.store(state, apart, BUCKET_DIFFERENCE_MAX);
      store<f64>(state, difference, BUCKET_DIFFERENCE_SQUARES);
    } else {
      v128.store(state, f64x2.pmin(v128.load(state, BUCKET_MIN), smallest), BUCKET_MIN);
      v128.store(state, f64x2.pmax(v128.load(state, BUCKET_MAX), largest), BUCKET_MAX);
      v128.store(state, f64x2.add(v128.load(state, BUCKET_SQUARES), squares), BUCKET_SQUARES);
      v128.store(state, f64x2.pmax(v128.load(state, BUCKET_DIFFERENCE_MAX), apart), BUCKET_DIFFERENCE_MAX);
      store<f64>(state, load<f64>(state, BUCKET_DIFFERENCE_SQUARES) + difference, BUCKET_DIFFERENCE_SQUARES);
    }
    bucketFrames += count;
    if (bucketFrames == BUCKET_FRAMES) {
      writeBucket(state, both, buckets, differenceAt);
      buckets += bucketBytes;
      bucketFrames = 0;
    }
    at = end;
    left -= count;
  }
  v128.store(state, peak, PEAK);
  v128.store(state, truePeak, TRUE_PEAK);
  v128.store(state, before, BEFORE);
  v128.store(sums, totalSum, SUM);
  v128.store(sums, totalSquares, SQUARES);
  const powers = f64x2.extract_lane(totalSquares, 0) + f64x2.extract_lane(totalSquares, 1);
  store<f64>(sums, (powers - totalDifference) / 2, PRODUCT);
  store<f64>(sums, totalDifference, DIFFERENCE_SQUARES);
  store<f64>(sums, f64(load<u32>(state, CLIPPED)), CLIPPED_NOW);
  store<f64>(sums, f64(load<u32>(state, CLIPPED + 4)), CLIPPED_NOW + 8);
  return bucketFrames;
}

/** [sum of the left vector's lanes, sum of the right's] */
// @ts-ignore: decorator
@inline
function bothSums(left: v128, right: v128): v128 {
  return f64x2.add(v128.shuffle<i64>(left, right, 0, 2), v128.shuffle<i64>(left, right, 1, 3));
}

// @ts-ignore: decorator
@inline
function lower(left: v128, right: v128): v128 {
  return f64x2.pmin(v128.shuffle<i64>(left, right, 0, 2), v128.shuffle<i64>(left, right, 1, 3));
}

// @ts-ignore: decorator
@inline
function higher(left: v128, right: v128): v128 {
  return f64x2.pmax(v128.shuffle<i64>(left, right, 0, 2), v128.shuffle<i64>(left, right, 1, 3));
}

/** The open bucket of a pair, as it stands. */
export function writeBucket(state: usize, both: bool, out: usize, differenceAt: u32): void {
  store<f64>(out, load<f64>(state, BUCKET_MIN));
  store<f64>(out, load<f64>(state, BUCKET_MAX), 8);
  store<f64>(out, load<f64>(state, BUCKET_SQUARES), 16);
  if (!both) return;
  store<f64>(out, load<f64>(state, BUCKET_MIN + 8), 24);
  store<f64>(out, load<f64>(state, BUCKET_MAX + 8), 32);
  store<f64>(out, load<f64>(state, BUCKET_SQUARES + 8), 40);
  const difference = out + differenceAt;
  store<f64>(difference, -load<f64>(state, BUCKET_DIFFERENCE_MAX + 8));
  store<f64>(difference, load<f64>(state, BUCKET_DIFFERENCE_MAX), 8);
  store<f64>(difference, load<f64>(state, BUCKET_DIFFERENCE_SQUARES), 16);
}

/** What single samples say: runs at full scale, and runs of zeros that reach over the stretch's ends. */
// @ts-ignore: decorator
@inline
function noteLane(at: usize, count: u32, state: usize, lane: usize, extreme: f64, ceiling: f64): void {
  if (extreme >= ceiling) countClipped(at, count, state + lane * 4, ceiling);
  else store<i32>(state + lane * 4, 0, FULL_RUN);

  const zeros = state + lane * 8;
  let run = load<f64>(zeros, ZERO_RUN);
  if (extreme == 0) {
    run += f64(count);
  } else {
    let leading: u32 = 0;
    while (load<f64>(at + usize(leading) * FRAME) == 0) leading++;
    run += f64(leading);
    if (load<f64>(zeros, FIRST_ZERO_RUN) < 0) store<f64>(zeros, run, FIRST_ZERO_RUN);
    if (run > load<f64>(zeros, LONGEST_ZERO_RUN)) store<f64>(zeros, run, LONGEST_ZERO_RUN);
    let trailing: u32 = 0;
    while (load<f64>(at + usize(count - 1 - trailing) * FRAME) == 0) trailing++;
    run = f64(trailing);
  }
  store<f64>(zeros, run, ZERO_RUN);
  if (run > load<f64>(zeros, LONGEST_ZERO_RUN)) store<f64>(zeros, run, LONGEST_ZERO_RUN);
}

function countClipped(at: usize, count: u32, counters: usize, ceiling: f64): void {
  let run = load<i32>(counters, FULL_RUN);
  let clipped = load<u32>(counters, CLIPPED);
  for (let i: u32 = 0; i < count; i++) {
    if (abs(load<f64>(at + usize(i) * FRAME)) < ceiling) run = 0;
    else {
      run++;
      if (run == 3) clipped += 3;
      else if (run > 3) clipped++;
    }
  }
  store<i32>(counters, run, FULL_RUN);
  store<u32>(counters, clipped, CLIPPED);
}

// --- Filtered energies ----------------------------------------------------------------------

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

// --- True peak ------------------------------------------------------------------------------

// Offsets from the taps to how far an interpolated value can exceed the largest sample around it (see truePeakFilter.ts).
const BOUND: usize = 384;
const OUTER_BOUND: usize = 392;
const REST: usize = 400;

/** Raises the true peak in a pair's `scan` state to that of a block. */
export function truePeakPair(block: usize, frames: u32, state: usize, taps: usize): void {
  v128.store(state, interpolatedPeak(block, frames, v128.load(state, TRUE_PEAK), taps), TRUE_PEAK);
}

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
function interpolatedPeak(block: usize, frames: u32, top: v128, taps: usize): v128 {
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
      if (!v128.any_true(f64x2.gt(f64x2.add(middle, f64x2.mul(highest, rests)), top))) continue;
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
  const even = f64x2.add(f64x2.mul(u, v128.load(taps, 288)), f64x2.mul(w, v128.load(taps, 352)));
  const odd = f64x2.add(f64x2.mul(v, v128.load(taps, 304)), f64x2.mul(x, v128.load(taps, 368)));
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
  even1 = f64x2.add(even1, f64x2.mul(u, v128.load(taps, 64))), odd1 = f64x2.add(odd1, f64x2.mul(v, v128.load(taps, 80)));
  even2 = f64x2.add(even2, f64x2.mul(u, v128.load(taps, 96))), odd2 = f64x2.add(odd2, f64x2.mul(v, v128.load(taps, 112)));
  near = v128.load(at, 32), far = v128.load(at, 144), u = f64x2.add(near, far), v = f64x2.sub(near, far);
  even1 = f64x2.add(even1, f64x2.mul(u, v128.load(taps, 128))), odd1 = f64x2.add(odd1, f64x2.mul(v, v128.load(taps, 144)));
  even2 = f64x2.add(even2, f64x2.mul(u, v128.load(taps, 160))), odd2 = f64x2.add(odd2, f64x2.mul(v, v128.load(taps, 176)));
  near = v128.load(at, 48), far = v128.load(at, 128), u = f64x2.add(near, far), v = f64x2.sub(near, far);
  even1 = f64x2.add(even1, f64x2.mul(u, v128.load(taps, 192))), odd1 = f64x2.add(odd1, f64x2.mul(v, v128.load(taps, 208)));
  even2 = f64x2.add(even2, f64x2.mul(u, v128.load(taps, 224))), odd2 = f64x2.add(odd2, f64x2.mul(v, v128.load(taps, 240)));
  near = v128.load(at, 64), far = v128.load(at, 112), u = f64x2.add(near, far), v = f64x2.sub(near, far);
  even1 = f64x2.add(even1, f64x2.mul(u, v128.load(taps, 256))), odd1 = f64x2.add(odd1, f64x2.mul(v, v128.load(taps, 272)));
  even2 = f64x2.add(even2, f64x2.mul(u, v128.load(taps, 288))), odd2 = f64x2.add(odd2, f64x2.mul(v, v128.load(taps, 304)));
  near = v128.load(at, 80), far = v128.load(at, 96), u = f64x2.add(near, far), v = f64x2.sub(near, far);
  even1 = f64x2.add(even1, f64x2.mul(u, v128.load(taps, 320))), odd1 = f64x2.add(odd1, f64x2.mul(v, v128.load(taps, 336)));
  even2 = f64x2.add(even2, f64x2.mul(u, v128.load(taps, 352))), odd2 = f64x2.add(odd2, f64x2.mul(v, v128.load(taps, 368)));
  return f64x2.pmax(f64x2.add(f64x2.abs(even1), f64x2.abs(odd1)), f64x2.add(f64x2.abs(even2), f64x2.abs(odd2)));
}
