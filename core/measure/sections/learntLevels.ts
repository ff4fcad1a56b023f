import { percentile } from '../stream/noiseFloor.ts';

// Frames whose source is this much alike say what is to be expected; at least so many of them.
const ALIKE_DB = 1.5;
const FEWEST_ALIKE = 15;
// Levels closer together than this are one.
const LEVEL_STEP_DB = 0.25;
// Quiet is steady where many frames come down to it, and a source that never leaves it is noise.
const STEADY_DB = 2;
const FEWEST_STEADY = 10;
const STEADY_SHARE = 0.1;
const STEADY_RANGE_DB = 3;
// What was learnt a few seconds ago holds to about this much.
const LEAST_SPREAD_DB = 2;
// The median of the deviations is this share of the deviation of a normal distribution; few values understate it.
const DEVIATION_OF_MEDIAN = 1.6;
// A frame that fits nothing may be anything: a share of all frames, spread over all levels.
const ANYTHING_SHARE = 0.05;
const ANYTHING_DB = 100;
// Below this is digital silence.
const NOTHING_DB = -115;
// What a frame costs that is quieter than anything learnt: less than one that does not fit, more than one that does.
const UNSEEN = 4;

/** How much a filter leaves of a frame, in dB, at each level of what it foretells from; learnt from frames of one kind. */
export class LearntLevels {
  private readonly order: number[];
  private readonly expectations = new Map<number, { middle: number; spread: number }>();
  private readonly heardDb: Float64Array;
  private readonly lowestDb: number;
  private readonly highestDb: number;
  /** How many decibels below the lowest, or above the highest, speak against a frame. */
  private readonly lowSpreadDb: number;
  private readonly highSpreadDb: number;

  /** @param heardDb level of the source, one a frame; @param leftDb what is left of the target */
  constructor(
    heardDb: Float64Array,
    private readonly leftDb: Float64Array,
  ) {
    this.order = Array.from(heardDb.keys()).sort((a, b) => heardDb[a] - heardDb[b]);
    this.heardDb = heardDb.slice().sort();
    this.lowestDb = percentile(heardDb, 0.02);
    this.highestDb = percentile(heardDb, 0.98);
    const rangeDb = this.highestDb - this.lowestDb;
    const quiet = heardDb.filter((level) => level <= this.lowestDb + STEADY_DB).length;
    this.lowSpreadDb = quiet >= Math.max(FEWEST_STEADY, STEADY_SHARE * heardDb.length) ? LEAST_SPREAD_DB : rangeDb;
    this.highSpreadDb = rangeDb <= STEADY_RANGE_DB ? LEAST_SPREAD_DB : Infinity;
  }

  /** Whether anything as quiet was learnt. */
  hasHeard(heardDb: number): boolean {
    return heardDb >= this.lowestDb - ALIKE_DB;
  }

  /** Minus the logarithm of how likely it is that this much is left at this level of the source. */
  unlikeness(heardDb: number, leftDb: number): number {
    const { middle, spread } = this.expected(heardDb);
    const fit = minusLogLikelihood((leftDb - middle) / spread, spread);
    const loud = Math.max(0, heardDb - this.highestDb) / this.highSpreadDb;
    if (this.hasHeard(heardDb)) {
      return (
        (leftDb < middle ? Math.min(fit, Math.max(UNSEEN, minusLogLikelihood(0, spread))) : fit) +
        Math.min(FITS_NOTHING, 0.5 * loud ** 2)
      );
    }
    // A quieter source speaks against it where the quiet that was learnt is steady, as no sound is quieter than its own noise;
    // digital silence always does, as every microphone has some.
    const silent = heardDb < NOTHING_DB && this.lowestDb > NOTHING_DB;
    const against = silent ? Infinity : 0.5 * Math.max(0, (this.lowestDb - heardDb) / this.lowSpreadDb - 1) ** 2;
    // And it leaves no more than a louder one.
    return (leftDb < middle ? Math.min(fit, UNSEEN) : fit) + Math.min(FITS_NOTHING, against);
  }

  /** Median and spread of what was left of the learnt frames that are as loud. */
  private expected(heardDb: number): { middle: number; spread: number } {
    const step = Math.round(heardDb / LEVEL_STEP_DB);
    const known = this.expectations.get(step);
    if (known) return known;
    const alike = this.alike(step * LEVEL_STEP_DB);
    const middle = percentile(alike, 0.5);
    const spread = Math.max(
      LEAST_SPREAD_DB,
      DEVIATION_OF_MEDIAN *
        percentile(
          alike.map((value) => Math.abs(value - middle)),
          0.5,
        ),
    );
    this.expectations.set(step, { middle, spread });
    return { middle, spread };
  }

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

const FITS_NOTHING = minusLogLikelihood(Infinity, 1);

function minusLogLikelihood(deviation: number, spread: number): number {
  const fits = Math.exp(-0.5 * deviation ** 2) / (spread * Math.sqrt(2 * Math.PI));
  return -Math.log((1 - ANYTHING_SHARE) * fits + ANYTHING_SHARE / ANYTHING_DB);
}
