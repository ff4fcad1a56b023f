// The path along which curves come highest. Held to all paths there are in arrivalPath.test.ts.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

// @ts-ignore: decorator
@inline
function at(values: usize, i: u32): f64 {
  return load<f64>(values + (usize(i) << 3));
}

// @ts-ignore: decorator
@inline
function placeAt(places: usize, i: u32): u32 {
  return load<u32>(places + (usize(i) << 2));
}

/** The sum over `count` curves of the highest of `width` values, upright or upside down; none of it under 0. Curves lie so many bytes apart. */
export function sumOfHighest(curves: usize, count: u32, bytes: usize, width: u32, sign: f64): f64 {
  let sum: f64 = 0;
  for (let c: u32 = 0; c < count; c++, curves += bytes) {
    let highest: f64 = 0;
    for (let i: u32 = 0; i < width; i++) highest = max(highest, sign * at(curves, i));
    sum += highest;
  }
  return sum;
}

/**
 * The places of the path, 32 bits each, that moves by no more than `fastest` from one curve to the next and comes highest in all (A. Viterbi, 1967). `scores`
 * and `next` have room for a curve, `leading` for its places, `cameFrom` for those of all curves. Returns the sum along it.
 */
export function highestPath(
  curves: usize,
  count: u32,
  bytes: usize,
  width: u32,
  sign: f64,
  fastest: u32,
  scores: usize,
  next: usize,
  leading: usize,
  cameFrom: usize,
  path: usize,
): f64 {
  for (let i: u32 = 0; i < width; i++) store<f64>(scores + (usize(i) << 3), sign * at(curves, i));
  const places = usize(width) << 2;
  for (let c: u32 = 1; c < count; c++) {
    const curve = curves + usize(c) * bytes;
    const back = cameFrom + usize(c) * places;
    // Of the places near enough those that are higher than all after them, in order: the first of them is the best.
    let first: u32 = 0;
    let end: u32 = 0;
    let reached: u32 = 0;
    for (let i: u32 = 0; i < width; i++) {
      const furthest = min(width - 1, i + fastest);
      for (; reached <= furthest; reached++) {
        const score = at(scores, reached);
        while (end > first && at(scores, placeAt(leading, end - 1)) < score) end--;
        store<u32>(leading + (usize(end++) << 2), reached);
      }
      while (placeAt(leading, first) + fastest < i) first++;
      const best = placeAt(leading, first);
      store<u32>(back + (usize(i) << 2), best);
      store<f64>(next + (usize(i) << 3), at(scores, best) + sign * at(curve, i));
    }
    const spare = scores;
    scores = next;
    next = spare;
  }
  let place: u32 = 0;
  for (let i: u32 = 1; i < width; i++) if (at(scores, i) > at(scores, place)) place = i;
  const sum = at(scores, place);
  for (let c = count; c > 0; c--) {
    store<u32>(path + (usize(c - 1) << 2), place);
    if (c > 1) place = placeAt(cameFrom + usize(c - 1) * places, place);
  }
  return sum;
}
