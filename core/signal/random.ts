/**
 * A small seeded generator of uniform numbers in [0, 1): the same seed gives the same
 * numbers on every machine (a 32-bit Weyl sequence through a multiply-and-shift mixer;
 * constants from S. Vigna, "Further scramblings of Marsaglia's xorshift generators", 2016).
 */
export function seededRandom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = following(state);
    return uniform(state);
  };
}

function following(state: number): number {
  return (state + 0x9e3779b9) >>> 0;
}

function uniform(state: number): number {
  let x = state;
  x = Math.imul(x ^ (x >>> 16), 0x85ebca6b);
  x = Math.imul(x ^ (x >>> 13), 0xc2b2ae35);
  x ^= x >>> 16;
  return (x >>> 0) / 0x100000000;
}

/** Standard normal numbers from a uniform source (Box and Muller, 1958). */
export function gaussian(random: () => number): () => number {
  return () => normal(random(), random());
}

function normal(one: number, other: number): number {
  return Math.sqrt(-2 * Math.log(1 - one)) * Math.cos(2 * Math.PI * other);
}
