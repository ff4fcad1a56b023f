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
