// A run of frames through all loops of the meter, piece by piece, so that each loop finds its piece in the processor's nearest memory.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

import { decodePair } from './decodePair.as';
import { speechPair, weightFrame, weightPair } from './filterPair.as';
import { BUCKET_FRAMES, CLIPPED_NOW, FRAME, SPEECH, SQUARES, SUMS_BYTES, TRUE_PEAK, WEIGHTED } from './layout.as';
import { scanPair, writeBucket } from './scanPair.as';
import { HISTORY, interpolatedPeak } from './truePeak.as';

// Offsets into the meter's own values. What it is told:
const KIND: usize = 0;
const FRAME_BYTES: usize = 4;
const WORD_BYTES: usize = 8;
const CHANNELS: usize = 12;
const BLOCK_FRAMES: usize = 16;
const PIECE_FRAMES: usize = 20;
const SPEECH_STEP: usize = 24;
const PAIRS_AT: usize = 28;
const PAIR_BYTES: usize = 32;
const COEFFICIENTS_AT: usize = 36;
const TAPS_AT: usize = 40;
const BUCKETS_AT: usize = 44;
const BLOCKS_AT: usize = 48;
const MOST_BLOCKS: usize = 52;
const CEILING: usize = 56;
const WEIGHTED_SCALE: usize = 64;
const SPEECH_SCALE: usize = 72;
// How far it is:
const GATHERED: usize = 80; // frames of the open block that are decoded
const MEASURED: usize = 84; // and of those, how many are in its sums
const OPEN_BUCKET_FRAMES: usize = 88;
const BUCKETS: usize = 92; // finished, and not yet taken
const BLOCKS: usize = 96;
const NOT_FINITE: usize = 100;

// Offsets into a pair's place.
const SCAN: usize = 0;
const FILTER: usize = 192;
const SPEECH_FILTER: usize = FILTER + 64;
const SUMS: usize = SPEECH_FILTER + 64;
const BLOCK: usize = 608; // the frames before it are the end of the block before

const SPEECH_COEFFICIENTS: usize = 48;
const LANE_BYTES: u32 = 24;
const VALUE: usize = 8;

/** Finished blocks and buckets lie ready afterwards; there must be room for as many as the run can finish. */
export function meterRun(meter: usize, input: usize, frames: u32): void {
  const frameBytes = load<u32>(meter, FRAME_BYTES), wordBytes = load<u32>(meter, WORD_BYTES), kind = load<u32>(meter, KIND);
  const channels = load<u32>(meter, CHANNELS), blockFrames = load<u32>(meter, BLOCK_FRAMES);
  while (frames > 0) {
    const gathered = load<u32>(meter, GATHERED), measured = load<u32>(meter, MEASURED);
    const pieceEnd = min(measured + load<u32>(meter, PIECE_FRAMES), blockFrames);
    const count = min(pieceEnd - gathered, frames);
    const isWhole = gathered + count == pieceEnd;
    let pair: usize = load<u32>(meter, PAIRS_AT);
    let open: u32 = 0;
    let notFinite = load<u32>(meter, NOT_FINITE);
    for (let c: u32 = 0; c < channels; c += 2) {
      const out = pair + BLOCK + usize(gathered) * FRAME;
      notFinite += decodePair(input + usize(c * wordBytes), kind, frameBytes, wordBytes, count, out, c + 1 < channels);
      if (isWhole) open = measurePiece(meter, pair, c, measured, pieceEnd);
      pair += load<u32>(meter, PAIR_BYTES);
    }
    store<u32>(meter, notFinite, NOT_FINITE);
    store<u32>(meter, gathered + count, GATHERED);
    if (isWhole) finishPiece(meter, open);
    if (isWhole && pieceEnd == blockFrames) finishBlock(meter);
    input += usize(count * frameBytes);
    frames -= count;
  }
}

/** At the end of a clip: the last block, which may be shorter, and the last bucket. Returns the frames of that bucket, 0 where none was open. */
export function finishRun(meter: usize): u32 {
  const channels = load<u32>(meter, CHANNELS), gathered = load<u32>(meter, GATHERED), measured = load<u32>(meter, MEASURED);
  if (gathered > measured) {
    let pair: usize = load<u32>(meter, PAIRS_AT);
    let open: u32 = 0;
    for (let c: u32 = 0; c < channels; c += 2) {
      open = measurePiece(meter, pair, c, measured, gathered);
      pair += load<u32>(meter, PAIR_BYTES);
    }
    finishPiece(meter, open);
  }
  if (gathered > 0) finishBlock(meter);
  const openFrames = load<u32>(meter, OPEN_BUCKET_FRAMES);
  if (openFrames == 0) return 0;
  let pair: usize = load<u32>(meter, PAIRS_AT);
  for (let c: u32 = 0; c < channels; c += 2) {
    writeBucket(pair + SCAN, c + 1 < channels, bucketAt(meter, c), differenceAt(channels, c));
    pair += load<u32>(meter, PAIR_BYTES);
  }
  store<u32>(meter, load<u32>(meter, BUCKETS) + 1, BUCKETS);
  store<u32>(meter, 0, OPEN_BUCKET_FRAMES);
  return openFrames;
}

/** Lets the interpolation run out over silence. */
export function runOut(meter: usize): void {
  const channels = load<u32>(meter, CHANNELS);
  let pair: usize = load<u32>(meter, PAIRS_AT);
  for (let c: u32 = 0; c < channels; c += 2) {
    memory.fill(pair + BLOCK, 0, HISTORY * FRAME);
    const top = interpolatedPeak(pair + BLOCK, u32(HISTORY), v128.load(pair + SCAN, TRUE_PEAK), load<u32>(meter, TAPS_AT));
    v128.store(pair + SCAN, top, TRUE_PEAK);
    pair += load<u32>(meter, PAIR_BYTES);
  }
}

/** Adds the frames of a pair's block from `measured` to `end` to its sums. Returns the frames in the bucket that stays open. */
function measurePiece(meter: usize, pair: usize, channel: u32, measured: u32, end: u32): u32 {
  const channels = load<u32>(meter, CHANNELS), coefficients: usize = load<u32>(meter, COEFFICIENTS_AT);
  const piece = pair + BLOCK + usize(measured) * FRAME, frames = end - measured, fours = frames & ~3;
  const open = scanPair(
    piece, frames, pair + SCAN, pair + SUMS, load<f64>(meter, CEILING), channel + 1 < channels, load<u32>(meter, OPEN_BUCKET_FRAMES),
    bucketAt(meter, channel), laneCount(channels) * LANE_BYTES, differenceAt(channels, channel), load<u32>(meter, TAPS_AT),
  );
  speechPair(piece, frames, load<u32>(meter, SPEECH_STEP), coefficients + SPEECH_COEFFICIENTS, pair + SPEECH_FILTER, pair + SUMS);
  weightPair(piece, fours, coefficients, pair + FILTER, pair + SUMS);
  for (let i = fours; i < frames; i++) weightFrame(piece + usize(i) * FRAME, coefficients, pair + FILTER, pair + SUMS);
  return open;
}

function finishPiece(meter: usize, open: u32): void {
  const gathered = load<u32>(meter, GATHERED);
  const bucketFrames = load<u32>(meter, OPEN_BUCKET_FRAMES) + gathered - load<u32>(meter, MEASURED);
  store<u32>(meter, load<u32>(meter, BUCKETS) + (bucketFrames - open) / BUCKET_FRAMES, BUCKETS);
  store<u32>(meter, open, OPEN_BUCKET_FRAMES);
  store<u32>(meter, gathered, MEASURED);
}

/** Writes what was measured of the block as a row over columns: each value of each pair is a series of its own. */
function finishBlock(meter: usize): void {
  const frames = load<u32>(meter, MEASURED), channels = load<u32>(meter, CHANNELS), block = load<u32>(meter, BLOCKS);
  const columnBytes = usize(load<u32>(meter, MOST_BLOCKS)) * VALUE;
  const each = f64(frames);
  let column: usize = load<u32>(meter, BLOCKS_AT) + usize(block) * VALUE;
  let pair: usize = load<u32>(meter, PAIRS_AT);
  for (let c: u32 = 0; c < channels; c += 2) {
    const sums = pair + SUMS;
    for (let at: usize = 0; at < SUMS_BYTES; at += VALUE) {
      const sum = load<f64>(sums + at);
      store<f64>(column, meanOf(meter, at, sum, each));
      store<f64>(sums + at, 0);
      column += columnBytes;
    }
    // The end of this block is the history of the next.
    memory.copy(pair + BLOCK - HISTORY * FRAME, pair + BLOCK + (usize(frames) - HISTORY) * FRAME, HISTORY * FRAME);
    pair += load<u32>(meter, PAIR_BYTES);
  }
  store<u32>(meter, block + 1, BLOCKS);
  store<u32>(meter, 0, GATHERED);
  store<u32>(meter, 0, MEASURED);
}

/** The sum of samples and the count of clipped ones stay what they are; all else is a mean, scaled by the gain that its filters left out. */
// @ts-ignore: decorator
@inline
function meanOf(meter: usize, at: usize, sum: f64, frames: f64): f64 {
  if (at < SQUARES || at >= CLIPPED_NOW) return sum;
  if (at >= SPEECH) return (sum * load<f64>(meter, SPEECH_SCALE)) / frames;
  if (at >= WEIGHTED) return (sum * load<f64>(meter, WEIGHTED_SCALE)) / frames;
  return sum / frames;
}

/** Where the next bucket of a pair goes: lanes are the channels in order, then the differences of the pairs. */
// @ts-ignore: decorator
@inline
function bucketAt(meter: usize, channel: u32): usize {
  const bucketBytes = laneCount(load<u32>(meter, CHANNELS)) * LANE_BYTES;
  return usize(load<u32>(meter, BUCKETS_AT) + load<u32>(meter, BUCKETS) * bucketBytes + channel * LANE_BYTES);
}

/** From a pair's left lane to its difference. */
// @ts-ignore: decorator
@inline
function differenceAt(channels: u32, channel: u32): u32 {
  return (channels + channel / 2 - channel) * LANE_BYTES;
}

// @ts-ignore: decorator
@inline
function laneCount(channels: u32): u32 {
  return channels + channels / 2;
}
