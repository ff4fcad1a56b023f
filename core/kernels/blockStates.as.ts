// What each block of a pair allows it to be, by its sums. See core/measure/sections/pairSegments.ts; as for all that is asked of every block once, blockSeries.as.ts.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

// A bit for each state, as `STATES` has them.
const LEFT_ONLY: u8 = 1;
const RIGHT_ONLY: u8 = 2;
const SAME: u8 = 4;
const SCALED: u8 = 8;
const INVERTED: u8 = 16;
const DIFFERENT: u8 = 32;
const NOTHING_TOLD: u8 = 0;

// Offsets into the thresholds, in the order of `StateThresholds`.
const NOTHING_POWER: usize = 0;
const EXACT: usize = 8;
const STANDS_OUT: usize = 16;
const NOISE_SHARE: usize = 24;
const COPY_NULL: usize = 32;
const COPY_REACH: usize = 40;
const SAME_NULL: usize = 48;
const SAME_REACH: usize = 56;
const ALONE: usize = 64;

// Of what it must stand out of, a side that shows less than this is hardly there.
const FAINT_SHARE: f64 = 0.3;
const FAINT_POWER: f64 = 1e-12;
const ROUNDING: f64 = 1e-12;
const LEAST: f64 = 1e-30;

/**
 * `left`, `right`, `products`: of each block the powers and the mean product; then the noise of either side as what lies before a block has it and what lies
 * after; `alone`: a state that is sure, or 0. Writes bits, a byte a block.
 */
export function blockStates(
  left: usize,
  right: usize,
  products: usize,
  leftBefore: usize,
  leftAfter: usize,
  rightBefore: usize,
  rightAfter: usize,
  alone: usize,
  count: u32,
  thresholds: usize,
  out: usize,
): void {
  const nothing = load<f64>(thresholds, NOTHING_POWER);
  for (let i: u32 = 0; i < count; i++) {
    const at = usize(i) << 3;
    const l = load<f64>(left + at), r = load<f64>(right + at), product = load<f64>(products + at);
    let bits = NOTHING_TOLD;
    if (l + r > nothing) {
      const sure = load<u8>(alone + usize(i));
      if (isExactCopy(l, r, product, thresholds)) bits = allowed(l, r, product, 0, 0, thresholds);
      else if (sure != 0) bits = sure;
      else {
        // Where the recording changes, the noise is that of before or that of after: a block speaks only where it does with either.
        const leftEarlier = load<f64>(leftBefore + at), leftLater = load<f64>(leftAfter + at);
        const rightEarlier = load<f64>(rightBefore + at), rightLater = load<f64>(rightAfter + at);
        const before = allowedOver(l, r, product, leftEarlier, rightEarlier, thresholds);
        const isSteady = leftEarlier == leftLater && rightEarlier == rightLater;
        const after = isSteady ? before : allowedOver(l, r, product, leftLater, rightLater, thresholds);
        bits = before == NOTHING_TOLD || after == NOTHING_TOLD ? NOTHING_TOLD : before | after;
      }
    }
    store<u8>(out + usize(i), bits);
  }
}

/** Noise that is the same on both sides to the last bits, but for level and polarity, was copied with the rest. */
function isExactCopy(l: f64, r: f64, product: f64, thresholds: usize): bool {
  const exact = load<f64>(thresholds, EXACT);
  return l + r - 2 * product < exact * (l + r) || l * r - product * product < exact * l * r;
}

/** Whether both sides are the same to the last bits, but for level and polarity, in all blocks. */
export function areExactBlocks(left: usize, right: usize, products: usize, count: u32, thresholds: usize): bool {
  const nothing = load<f64>(thresholds, NOTHING_POWER);
  for (let i: u32 = 0; i < count; i++) {
    const at = usize(i) << 3;
    const l = load<f64>(left + at), r = load<f64>(right + at);
    if (l + r > nothing && !isExactCopy(l, r, load<f64>(products + at), thresholds)) return false;
  }
  return true;
}

function allowedOver(l: f64, r: f64, product: f64, leftNoise: f64, rightNoise: f64, thresholds: usize): u8 {
  const standsOut = load<f64>(thresholds, STANDS_OUT);
  if (l > standsOut * leftNoise || r > standsOut * rightNoise) return allowed(l, r, product, leftNoise, rightNoise, thresholds);
  return NOTHING_TOLD;
}

/** What a block's powers and product allow; the noise of either side is taken off. */
function allowed(l: f64, r: f64, product: f64, leftNoise: f64, rightNoise: f64, thresholds: usize): u8 {
  const left = max(l - leftNoise, 0), right = max(r - rightNoise, 0);
  const unsure = load<f64>(thresholds, NOISE_SHARE) * (leftNoise + rightNoise);
  const reach = (unsure + ROUNDING * (l + r)) / (l + r);
  const difference = max(l + r - 2 * product - leftNoise - rightNoise, 0) + unsure;
  const plainNull = difference / max(l + r + 2 * product, LEAST);
  const isHeardOnBoth = left > 0 && right > 0;
  const likeness = isHeardOnBoth ? min(1, (product * product) / (left * right)) : 0;
  const copyNull = max(load<f64>(thresholds, COPY_NULL), load<f64>(thresholds, COPY_REACH) * reach);
  const areCopies = isHeardOnBoth && 1 - likeness + ROUNDING <= copyNull;
  const faint = FAINT_SHARE * load<f64>(thresholds, STANDS_OUT);
  const leftFaint = left < max(faint * leftNoise, FAINT_POWER), rightFaint = right < max(faint * rightNoise, FAINT_POWER);
  const alone = load<f64>(thresholds, ALONE);
  let bits: u8 = 0;
  if (left + LEAST >= alone * (right + LEAST) || (rightFaint && !leftFaint)) bits |= LEFT_ONLY;
  if (right + LEAST >= alone * (left + LEAST) || (leftFaint && !rightFaint)) bits |= RIGHT_ONLY;
  if (plainNull <= max(load<f64>(thresholds, SAME_NULL), load<f64>(thresholds, SAME_REACH) * reach)) bits |= SAME;
  if (areCopies && product > 0) bits |= SCALED;
  if (areCopies && product < 0) bits |= INVERTED;
  return bits & (LEFT_ONLY | RIGHT_ONLY) ? bits : bits | DIFFERENT;
}
