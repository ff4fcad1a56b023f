import { percentile } from './noiseFloor.ts';

// Frames whose source is this much alike say what is to be expected; at least so many of them.
const ALIKE_DB = 1.5;
const FEWEST_ALIKE = 15;
// What was learnt a few seconds ago holds to about this much.
const LEAST_SPREAD_DB = 2;
// The median of the deviations is this share of the deviation of a normal distribution; few values understate it.
const DEVIATION_OF_MEDIAN = 1.6;
// A frame that fits nothing may be anything: a share of all frames, spread over all levels.
const ANYTHING_SHARE = 0.05;
const ANYTHING_DB = 100;
// What a frame costs that is quieter than anything learnt: less than one that does not fit, more than one that does.
const UNSEEN = 4;

/** How much a filter leaves of a frame, in dB, at each level of what it foretells from; learnt from frames of one kind. */
export class LearntLevels {
  private readonly order: number[];
  private readonly heardDb: Float64Array;
  private readonly lowestDb: number;
  private readonly lowSpreadDb: number;

  /** @param heardDb level of the source, one a frame; @param leftDb what is left of the target */
  constructor(heardDb: Float64Array, private readonly leftDb: Float64Array) {
    this.order = Array.from(heardDb.keys()).sort((a, b) => heardDb[a] - heardDb[b]);
    this.heardDb = heardDb.slice().sort();
    this.lowestDb = percentile(heardDb, 0.02);
    this.lowSpreadDb = Math.max(LEAST_SPREAD_DB, percentile(heardDb, 0.25) - this.lowestDb);
  }

  /** Minus the logarithm of how likely it is that this much is left at this level of the source. */
  unlikeness(heardDb: number, leftDb: number): number {
    const belowDb = this.lowestDb - heardDb;
    // That speaks against it where the quiet that was learnt is steady: no sound is quieter than its own noise.
    if (belowDb > ALIKE_DB) return Math.min(UNSEEN + 0.5 * (belowDb / this.lowSpreadDb) ** 2, minusLogLikelihood(Infinity, 1));
    const alike = this.alike(heardDb);
    const middle = percentile(alike, 0.5);
    const spread = Math.max(LEAST_SPREAD_DB, DEVIATION_OF_MEDIAN * percentile(alike.map((value) => Math.abs(value - middle)), 0.5));
    return minusLogLikelihood((leftDb - middle) / spread, spread);
  }

  /** What was left of the learnt frames that are as loud. */
  private alike(heardDb: number): number[] {
    const levels = this.heardDb;
    let first = levels.findIndex((level) => level >= heardDb - ALIKE_DB);
    if (first < 0) first = levels.length;
    let last = first;
    while (last < levels.length && levels[last] <= heardDb + ALIKE_DB) last++;
    const wanting = Math.max(0, FEWEST_ALIKE - (last - first));
    first = Math.max(0, Math.min(first - (wanting >> 1), levels.length - FEWEST_ALIKE));
    last = Math.min(levels.length, Math.max(last + (wanting >> 1), first + FEWEST_ALIKE));
    // Louder than anything learnt: what is left grows with it.
    const beyondDb = Math.max(0, heardDb - levels[levels.length - 1]);
    return this.order.slice(first, last).map((frame) => this.leftDb[frame] + beyondDb);
  }
}

function minusLogLikelihood(deviation: number, spread: number): number {
  const fits = Math.exp(-0.5 * deviation ** 2) / (spread * Math.sqrt(2 * Math.PI));
  return -Math.log((1 - ANYTHING_SHARE) * fits + ANYTHING_SHARE / ANYTHING_DB);
}
