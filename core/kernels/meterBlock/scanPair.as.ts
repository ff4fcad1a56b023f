// Sums, extremes, clipping, silence and the outline of a block, and where its true peak may be.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

import { fused } from '../fused.as';
import { BUCKET_FRAMES, CLIPPED_NOW, DIFFERENCE_SQUARES, FRAME, PRODUCT, SQUARES, SUM, TRUE_PEAK } from './layout.as';
import { BOUND, HISTORY, interpolatedPeak } from './truePeak.as';

// Offsets into a pair's `scan` state, kept from block to block.
const PEAK: usize = 0;
const BUCKET_MIN: usize = 16;
const BUCKET_MAX: usize = 32;
const BUCKET_SQUARES: usize = 48;
const BUCKET_DIFFERENCE_MAX: usize = 64; // [largest left - right, largest right - left]
const BUCKET_DIFFERENCE_SQUARES: usize = 80;
const FULL_RUN: usize = 96; // i32 a lane: samples in a row at full scale
const CLIPPED: usize = 104; // u32 a lane, in this piece
const ZERO_RUN: usize = 112; // f64 a lane: samples in a row that are exactly zero
const LONGEST_ZERO_RUN: usize = 128;
const FIRST_ZERO_RUN: usize = 144; // -1 while there was nothing but zeros
const BEFORE: usize = 176; // the largest magnitudes that the interpolation of what comes next still reaches

/**
 * One pass over a piece of a block of one pair, and over what may hold its true peak; it is added to what the sums hold. Whole outline buckets are written as [minimum, maximum, sum of squares]
 * for the left lane at `buckets`, the right lane 24 bytes on, the difference at `differenceAt` from there; the next bucket is
 * `bucketBytes` on. Returns the frames in the bucket that stays open.
 *
 * Two frames at a time. The sum of products follows from the three sums of squares; as all three add in the same order it is exact
 * where a side is empty, equal or inverted.
 */
export function scanPair(
  block: usize, frames: u32, state: usize, sums: usize, ceiling: f64, both: bool,
  bucketFrames: u32, buckets: usize, bucketBytes: u32, differenceAt: u32, taps: usize,
): u32 {
  let totalSum = v128.load(sums, SUM);
  let totalSquares = v128.load(sums, SQUARES);
  let totalDifference = load<f64>(sums, DIFFERENCE_SQUARES);
  let peak = v128.load(state, PEAK), truePeak = v128.load(state, TRUE_PEAK), before = v128.load(state, BEFORE);
  const bounds = v128.load64_splat(taps, BOUND);
  store<u64>(state, 0, CLIPPED);
  let at = block;
  let left = frames;
  while (left > 0) {
    const count = min(left, BUCKET_FRAMES - bucketFrames);
    const end = at + usize(count) * FRAME;
    let smallest = v128.load(at), largest = smallest;
    let differenceLow = f64x2.splat(load<f64>(at) - load<f64>(at, 8)), differenceHigh = differenceLow;
    let sum = f64x2.splat(0), firstSquares = sum, secondSquares = sum, differenceSquares = sum;
    let p = at;
    for (; p + 2 * FRAME <= end; p += 2 * FRAME) {
      const first = v128.load(p), second = v128.load(p, FRAME);
      // Of either frame, a lane each.
      const difference = f64x2.sub(v128.shuffle<i64>(first, second, 0, 2), v128.shuffle<i64>(first, second, 1, 3));
      sum = f64x2.add(sum, f64x2.add(first, second));
      firstSquares = fused(first, first, firstSquares);
      secondSquares = fused(second, second, secondSquares);
      differenceSquares = fused(difference, difference, differenceSquares);
      smallest = f64x2.pmin(smallest, f64x2.pmin(first, second));
      largest = f64x2.pmax(largest, f64x2.pmax(first, second));
      differenceLow = f64x2.pmin(differenceLow, difference);
      differenceHigh = f64x2.pmax(differenceHigh, difference);
    }
    if (p < end) {
      const frame = v128.load(p), difference = load<f64>(p) - load<f64>(p, 8);
      sum = f64x2.add(sum, frame);
      firstSquares = fused(frame, frame, firstSquares);
      differenceSquares = f64x2.add(differenceSquares, f64x2(difference * difference, 0));
      smallest = f64x2.pmin(smallest, frame);
      largest = f64x2.pmax(largest, frame);
      differenceLow = f64x2.pmin(differenceLow, f64x2.splat(difference));
      differenceHigh = f64x2.pmax(differenceHigh, f64x2.splat(difference));
    }
    const squares = f64x2.add(firstSquares, secondSquares);
    const difference = f64x2.extract_lane(differenceSquares, 0) + f64x2.extract_lane(differenceSquares, 1);
    totalSum = f64x2.add(totalSum, sum);
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
    const below = f64x2.neg(differenceLow);
    const apart = f64x2.pmax(v128.shuffle<i64>(differenceHigh, below, 0, 2), v128.shuffle<i64>(differenceHigh, below, 1, 3));
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
  store<f64>(sums, load<f64>(sums, CLIPPED_NOW) + f64(load<u32>(state, CLIPPED)), CLIPPED_NOW);
  store<f64>(sums, load<f64>(sums, CLIPPED_NOW + 8) + f64(load<u32>(state, CLIPPED + 4)), CLIPPED_NOW + 8);
  return bucketFrames;
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
