// What is asked of every block of a clip: an hour has 36,000, and whatever looks at them once is run by an engine that has not compiled it yet.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

// @ts-ignore: decorator
@inline
function at(values: usize, i: u32): f64 {
  return load<f64>(values + (usize(i) << 3));
}

/** Of `count` values the one that is at `rank` (from 0) once they are sorted; their order is lost (Hoare, "Algorithm 65: Find", 1961). */
export function ranked(values: usize, count: u32, rank: u32): f64 {
  let low: i32 = 0;
  let high = i32(count) - 1;
  const wanted = i32(rank);
  while (low < high) {
    const pivot = at(values, (low + high) >> 1);
    let i = low;
    let j = high;
    while (i <= j) {
      while (at(values, i) < pivot) i++;
      while (pivot < at(values, j)) j--;
      if (i > j) break;
      const one = at(values, i);
      store<f64>(values + (usize(i++) << 3), at(values, j));
      store<f64>(values + (usize(j--) << 3), one);
    }
    if (wanted <= j) high = j;
    else if (wanted >= i) low = i;
    else break;
  }
  return at(values, rank);
}

/** Keeps of `count` values those beyond `least`, or at it too, in order. Returns how many there are. */
export function keepAbove(values: usize, count: u32, least: f64, orAt: bool): u32 {
  let kept: u32 = 0;
  for (let i: u32 = 0; i < count; i++) {
    const value = at(values, i);
    if (value > least || (orAt && value == least)) store<f64>(values + (usize(kept++) << 3), value);
  }
  return kept;
}

/** Writes where values lie beyond `least` and under `most`, in order, as 32-bit places. Returns how many there are. */
export function placesBetween(values: usize, count: u32, least: f64, most: f64, places: usize): u32 {
  let found: u32 = 0;
  for (let i: u32 = 0; i < count; i++) {
    const value = at(values, i);
    if (value > least && value < most) store<u32>(places + (usize(found++) << 2), i);
  }
  return found;
}

/** Where the largest of `sign` times the values is, the first of them; there must be one value at least. */
export function largestAt(values: usize, count: u32, sign: f64): u32 {
  let largest: u32 = 0;
  for (let i: u32 = 1; i < count; i++) if (sign * at(values, i) > sign * at(values, largest)) largest = i;
  return largest;
}

/** values[i] = the larger of it and of others[i] */
export function raise(values: usize, others: usize, count: u32): void {
  for (let i: u32 = 0; i < count; i++) store<f64>(values + (usize(i) << 3), max(at(values, i), at(others, i)));
}

/** values[i] += others[i] */
export function add(values: usize, others: usize, count: u32): void {
  for (let i: u32 = 0; i < count; i++) store<f64>(values + (usize(i) << 3), at(values, i) + at(others, i));
}

/** values[i] += others[i] where both are beyond `nothing`, else 0 */
export function addWhereBoth(values: usize, others: usize, count: u32, nothing: f64): void {
  for (let i: u32 = 0; i < count; i++) {
    const one = at(values, i), other = at(others, i);
    store<f64>(values + (usize(i) << 3), min(one, other) > nothing ? one + other : 0);
  }
}

/**
 * At 32-bit places one is larger than the other or less: after how many of them that turns over, if anywhere. There the sum of the signs of what went before
 * is furthest from what it would be without a turn; how far, twice over, is written to `furthest`.
 */
export function leaningTurn(one: usize, other: usize, places: usize, count: u32, furthest: usize): u32 {
  let total: i32 = 0;
  for (let k: u32 = 0; k < count; k++) total += leaning(one, other, load<u32>(places + (usize(k) << 2)));
  let sum: i32 = 0, most: i32 = 0;
  let split: u32 = 0;
  for (let k: u32 = 0; k < count; k++) {
    sum += leaning(one, other, load<u32>(places + (usize(k) << 2)));
    const turned = abs(2 * sum - total);
    if (turned > most) {
      most = turned;
      split = k + 1;
    }
  }
  store<f64>(furthest, f64(most));
  return split;
}

// @ts-ignore: decorator
@inline
function leaning(one: usize, other: usize, i: u32): i32 {
  return i32(at(one, i) > at(other, i)) - i32(at(one, i) < at(other, i));
}

/** The sum of values, in order, each taken `each` times and the last one `last` times. */
export function total(values: usize, count: u32, each: f64, last: f64): f64 {
  let sum: f64 = 0;
  for (let i: u32 = 0; i + 1 < count; i++) sum += at(values, i) * each;
  return count > 0 ? sum + at(values, count - 1) * last : sum;
}

/** Marks, a byte each, the values beyond `least`. */
export function markAbove(values: usize, count: u32, least: f64, marks: usize): void {
  for (let i: u32 = 0; i < count; i++) store<u8>(marks + usize(i), u8(at(values, i) > least));
}

/** marks[i] is 1 where either is */
export function markEither(marks: usize, others: usize, count: u32): void {
  for (let i: u32 = 0; i < count; i++) store<u8>(marks + usize(i), load<u8>(marks + usize(i)) | load<u8>(others + usize(i)));
}

/** Keeps of `count` values those that are marked, in order. Returns how many there are. */
export function keepMarked(values: usize, count: u32, marks: usize): u32 {
  let kept: u32 = 0;
  for (let i: u32 = 0; i < count; i++) if (load<u8>(marks + usize(i))) store<f64>(values + (usize(kept++) << 3), at(values, i));
  return kept;
}

/** out[i] = 1 where neither i is marked nor what lies beside it, else 0 */
export function markApart(marks: usize, count: u32, out: usize): void {
  for (let i: u32 = 0; i < count; i++) {
    const before = i > 0 ? load<u8>(marks + usize(i - 1)) : 0, after = i + 1 < count ? load<u8>(marks + usize(i + 1)) : 0;
    store<u8>(out + usize(i), u8((before | load<u8>(marks + usize(i)) | after) == 0));
  }
}

/** values[i] /= divisor */
export function divide(values: usize, count: u32, divisor: f64): void {
  for (let i: u32 = 0; i < count; i++) store<f64>(values + (usize(i) << 3), at(values, i) / divisor);
}

/** values[i] = others[i] where it is less than `least` */
export function replaceBelow(values: usize, others: usize, count: u32, least: f64): void {
  for (let i: u32 = 0; i < count; i++) if (at(values, i) < least) store<f64>(values + (usize(i) << 3), at(others, i));
}

/** values[i] = `least` where it is less */
export function raiseTo(values: usize, count: u32, least: f64): void {
  for (let i: u32 = 0; i < count; i++) store<f64>(values + (usize(i) << 3), max(at(values, i), least));
}

/** Writes from the second to the last but one where either of two values is at least so large, in order, as 32-bit places. Returns how many there are. */
export function placesOfEither(one: usize, other: usize, count: u32, oneLeast: f64, otherLeast: f64, places: usize): u32 {
  let found: u32 = 0;
  for (let i: u32 = 1; i + 1 < count; i++)
    if (at(one, i) >= oneLeast || at(other, i) >= otherLeast) store<u32>(places + (usize(found++) << 2), i);
  return found;
}

/** ratios[k] = one to other at each of the 32-bit places, so much added to either */
export function ratiosAt(one: usize, other: usize, places: usize, count: u32, beside: f64, ratios: usize): void {
  for (let k: u32 = 0; k < count; k++) {
    const i = load<u32>(places + (usize(k) << 2));
    store<f64>(ratios + (usize(k) << 3), (at(one, i) + beside) / (at(other, i) + beside));
  }
}

/** ratios[k], which are one to other at each of the 32-bit places, become what one has that other, `mostly` times as large, does not account for; 0 where the ratio is within `unlike` times that. */
export function excessAt(one: usize, other: usize, places: usize, count: u32, mostly: f64, unlike: f64, ratios: usize): void {
  for (let k: u32 = 0; k < count; k++) {
    const i = load<u32>(places + (usize(k) << 2));
    const ratio = at(ratios, k) / mostly;
    const excess = ratio < unlike && ratio > 1 / unlike ? 0 : at(one, i) - mostly * at(other, i);
    store<f64>(ratios + (usize(k) << 3), excess);
  }
}

/** out[i] = the mean of `length` values from i on; those beyond the end are nothing. For i = 0 up to `places`. */
export function slidingMeans(values: usize, count: u32, length: u32, places: u32, out: usize): void {
  for (let i: u32 = 0; i < places; i++) {
    const end = min(count, i + length);
    let sum: f64 = 0;
    for (let k = i; k < end; k++) sum += at(values, k);
    store<f64>(out + (usize(i) << 3), sum / f64(length));
  }
}

/**
 * out[i] = the largest of `length` values from i on, where none of them is 0 and it is no more than `steady` times the least; else infinity. Those beyond
 * the end do not count. For i = 0 up to `places`.
 */
export function largestOfSteady(values: usize, count: u32, length: u32, steady: f64, places: u32, out: usize): void {
  for (let i: u32 = 0; i < places; i++) {
    const end = min(count, i + length);
    let largest: f64 = 0;
    let least: f64 = Infinity;
    for (let k = i; k < end; k++) {
      largest = max(largest, at(values, k));
      least = min(least, at(values, k));
    }
    store<f64>(out + (usize(i) << 3), least == 0 || largest / least > steady ? Infinity : largest);
  }
}

/**
 * The noise that each window of `length` powers shows, of a block and of those before it, and whether it is sure. Where blocks are steady it is all noise,
 * where they fall back as speech does it is what they fall back to; music tells nothing of its noise (0). Noise is sure where the quietest blocks are alike:
 * quiet syllables differ. `nothing` and less is digital silence, and left out. `sorted` has room for a window.
 */
export function noiseOfWindows(
  powers: usize,
  count: u32,
  length: u32,
  nothing: f64,
  loudest: f64,
  steady: f64,
  standsOut: f64,
  alike: u32,
  sorted: usize,
  noise: usize,
  sure: usize,
): void {
  let held: u32 = 0;
  for (let i: u32 = 0; i < count; i++) {
    if (i >= length) {
      const gone = at(powers, i - length);
      if (gone > nothing) {
        let k: u32 = 0;
        while (at(sorted, k) != gone) k++;
        held--;
        memory.copy(sorted + (usize(k) << 3), sorted + (usize(k + 1) << 3), usize(held - k) << 3);
      }
    }
    const power = at(powers, i);
    if (power > nothing) {
      let k = held++;
      for (; k > 0 && at(sorted, k - 1) > power; k--) store<f64>(sorted + (usize(k) << 3), at(sorted, k - 1));
      store<f64>(sorted + (usize(k) << 3), power);
    }
    let shown: f64 = 0;
    if (held > 0) {
      const low = at(sorted, u32(0.1 * f64(held)));
      const middle = at(sorted, u32(0.5 * f64(held)));
      const high = at(sorted, u32(0.9 * f64(held)));
      if (low < loudest && (middle < steady * low || high > standsOut * low)) shown = low;
    }
    store<f64>(noise + (usize(i) << 3), shown);
    const isSure = shown > 0 && held > alike && at(sorted, alike) <= steady * at(sorted, 1);
    store<u8>(sure + usize(i), u8(isSure));
  }
}

/**
 * The noise under each block as the window that ends with it has it, and the one that begins with it (which ends with a later block), but `most` times its
 * power at most. Where only one of them is sure it speaks for both.
 */
export function noiseBesides(powers: usize, count: u32, length: u32, noise: usize, sure: usize, most: f64, before: usize, after: usize): void {
  for (let i: u32 = 0; i < count; i++) {
    const later = min(count, i + length) - 1;
    const sureHere = load<u8>(sure + usize(i)), sureLater = load<u8>(sure + usize(later));
    const first = at(noise, sureLater > sureHere ? later : i), second = at(noise, sureHere > sureLater ? i : later);
    const largest = most * at(powers, i);
    store<f64>(before + (usize(i) << 3), min(largest, first != 0 ? first : second));
    store<f64>(after + (usize(i) << 3), min(largest, second != 0 ? second : first));
  }
}

/**
 * The cheapest path through `size` states (Viterbi, 1967). `told`: what each block tells, a row of `costs`, which has what each state costs there;
 * `change`: what a change costs. `before` and `next` have room for the costs of all states, `cameFrom` for a byte a block and state.
 */
export function cheapestPath(
  told: usize,
  count: u32,
  costs: usize,
  size: u32,
  change: f64,
  before: usize,
  next: usize,
  cameFrom: usize,
  path: usize,
): void {
  const width = usize(size) << 3;
  memory.fill(before, 0, width);
  for (let i: u32 = 0; i < count; i++) {
    const row = costs + usize(load<u8>(told + usize(i))) * width;
    const least = cheapest(before, size);
    const changed = at(before, least) + change;
    for (let s: u32 = 0; s < size; s++) {
      const stays = at(before, s) <= changed;
      store<u8>(cameFrom + usize(i * size + s), u8(stays ? s : least));
      store<f64>(next + (usize(s) << 3), (stays ? at(before, s) : changed) + at(row, s));
    }
    const spare = before;
    before = next;
    next = spare;
  }
  let state = cheapest(before, size);
  for (let i = count; i > 0; i--) {
    store<u8>(path + usize(i - 1), u8(state));
    state = load<u8>(cameFrom + usize((i - 1) * size + state));
  }
}

/** The first of the cheapest. */
function cheapest(costs: usize, size: u32): u32 {
  let least: u32 = 0;
  for (let s: u32 = 1; s < size; s++) if (at(costs, s) < at(costs, least)) least = s;
  return least;
}
