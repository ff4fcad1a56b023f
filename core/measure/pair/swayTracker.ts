import { arrivalPath, type ArrivalPath } from '../../kernels/arrivalPath.ts';
import { MovingCopy, type Products } from '../../kernels/movingCopy.ts';
import { sumOfSquares, sumsOfProducts } from '../../kernels/stretchSums.ts';
import { TapTable } from '../../signal/interpolationTaps.ts';
import { solvedSystem } from '../../signal/linearSystem.ts';
import { ArrivalFinder } from '../spectra/arrival.ts';
import type { SoundRoom } from '../soundRoom.ts';
import { beyondNoise } from '../spectra/nullDepths.ts';

// How a copy's delay goes through single stretches, and what is left with that copy taken off.

/** Nearer than this it is a filter, further a word said twice. */
const EARLIEST_SECONDS = 0.001;
const LATEST_SECONDS = 0.045;
/** Between two places at which the delay is told it goes along a straight line. */
const STEP_SECONDS = 0.02;
const WINDOW_SECONDS = 0.048;
/** A delay that swings by 3 ms twice a second goes this fast; nobody calls what goes faster a chorus. */
const FASTEST = 0.045;
const ROUNDS = 6;
// A round that leaves more than this share of what the one before left has come to its end, or leads nowhere.
const NO_BETTER = 0.98;
/** Where the copy leaves less than this share, it was found. */
const SURELY = 0.03;
/** With the gains of all stretches, where none of them is what leaves least. */
const FOUND = 0.01;
// So much of the bend of a delay's course is held back, where the sound says nothing of it.
const STIFFNESS = 0.02;
// Sound under 5 kHz at a rate of 12 is told to -60 dB by so many taps (Kaiser's estimate): what a sway leaves is not lower.
const HALF_TAPS = 12;
const TAPS = new TapTable(256, HALF_TAPS, 6);
let taps: Float64Array | null = null;

/** A copy followed through stretches and taken off. */
export interface Undone {
  /** Share of the other's power, beyond its noise. */
  leftOver: number;
  /** In samples of the lowered rate, at every place of each stretch. */
  delays: number[][];
  direct: number;
  swaying: number;
  /** Of the stretches of which next to nothing is left. */
  found: number[][];
}

/** Of one stretch. */
interface Fit {
  left: number;
  power: number;
  delays: number[];
  products: Products;
  /** The reference so much earlier. */
  copy: Float64Array;
}

/** Follows a copy's delay through stretches. */
export class SwayTracker {
  private readonly finder: ArrivalFinder;
  private readonly step: number;
  private readonly half: number;
  private readonly reach: number;
  private readonly earliest: number;
  private readonly places: number;
  private readonly length: number;
  private readonly fastest: number;
  private copy: MovingCopy | null = null;

  constructor(
    rate: number,
    private readonly margin: number,
    private readonly soundLength: number,
    private readonly room: SoundRoom,
  ) {
    this.length = soundLength - 2 * margin;
    this.step = Math.max(1, Math.round(STEP_SECONDS * rate));
    this.half = Math.round((WINDOW_SECONDS * rate) / 2);
    this.reach = Math.min(Math.round(LATEST_SECONDS * rate), margin - HALF_TAPS - 2);
    this.earliest = Math.round(EARLIEST_SECONDS * rate);
    this.places = Math.max(2, Math.floor(this.length / this.step) + 1);
    this.finder = new ArrivalFinder(rate, 2 * this.half + this.reach, this.reach);
    this.fastest = Math.ceil(FASTEST * this.step);
  }

  /** How much of the whitened sound agrees along the best path, told at every second place. */
  height(reference: Float64Array, other: Float64Array): number {
    return this.path(reference, other, [this.earliest, this.reach], 2).height;
  }

  /**
   * @param sounds a reference and what may hold its copy, `margin` samples beyond either end of each
   * @param pauses the same where only noise is heard; none where it is not to be taken off
   * @returns null where the other is silent
   */
  undo(sounds: [Float64Array, Float64Array][], pauses: [Float64Array, Float64Array][]): Undone | null {
    const first = sounds.map(([reference, other]) => this.fit(reference, other, [this.earliest, this.reach]));
    // Where the sound repeats itself its copy may be looked for a period off: what was found surely elsewhere tells where to look.
    const sure = first.filter(({ left: rest, power: all }) => rest < SURELY * all).flatMap((one) => one.delays);
    const range: [number, number] | null =
      sure.length > 0 && sure.length < first.length * this.places
        ? [
            Math.max(this.earliest, Math.floor(Math.min(...sure) - this.fastest)),
            Math.min(this.reach, Math.ceil(Math.max(...sure) + this.fastest)),
          ]
        : null;
    const fits = sounds.map(([reference, other], s) => {
      if (!range || first[s].left < SURELY * first[s].power) return first[s];
      const again = this.fit(reference, other, range);
      return again.left < first[s].left ? again : first[s];
    });
    const power = fits.reduce((sum, one) => sum + one.power, 0);
    if (power === 0) return null;
    // An effect has one setting: what is direct for one talker and upside down for the other is none.
    const [direct, swaying] = bothGains(fits.map(({ products }) => products).reduce(summed));
    const lefts = fits.map(({ copy }, s) => powerLeft(sounds[s], copy, [direct, swaying], this.margin));
    const left = lefts.reduce((sum, one) => sum + one, 0);
    const noise =
      pauses.length === 0
        ? 0
        : (pauses.reduce((sum, [, other]) => sum + powerWithin(other, this.margin), 0) / pauses.length) * sounds.length;
    return {
      leftOver: beyondNoise(left, noise) / Math.max(beyondNoise(power, noise), Number.MIN_VALUE),
      delays: fits.map(({ delays }) => delays),
      direct,
      swaying,
      found: fits
        .filter(({ power: all }, s) => beyondNoise(lefts[s], noise / sounds.length) < FOUND * all)
        .map(({ delays }) => delays),
    };
  }

  /** One stretch: the path its correlation shows, and from there the course that leaves least (Gauss and Newton). */
  private fit(reference: Float64Array, other: Float64Array, range: [number, number]): Fit {
    const { margin, places } = this;
    const { delays } = this.path(reference, other, range);
    const copy = (this.copy ??= this.movingCopy());
    copy.take(reference, other);
    const power = powerWithin(other, margin);
    let left = power;
    let before = Infinity;
    let products: Products;
    for (let round = 0; ; round++) {
      copy.follow(delays);
      products = copy.products();
      const [direct, swaying] = bothGains(products);
      left = copy.powerLeft(direct, swaying);
      if (round === ROUNDS || swaying === 0 || left > NO_BETTER * before) break;
      before = left;
      const { diagonal, beside, right } = copy.stepEquations(direct, swaying);
      const matrix = Array.from({ length: places }, () => new Float64Array(places));
      let trace = 0;
      for (let k = 0; k < places; k++) {
        matrix[k][k] = diagonal[k];
        if (k > 0) matrix[k][k - 1] = matrix[k - 1][k] = beside[k - 1];
        trace += diagonal[k];
      }
      stiffen(matrix, right, delays, (STIFFNESS * trace) / places);
      const moved = solvedSystem(matrix, right);
      for (let k = 0; k < places; k++)
        delays[k] = Math.max(0, Math.min(this.reach, delays[k] + Math.max(-2, Math.min(2, moved[k]))));
    }
    return { left, power, delays, products, copy: copy.copy() };
  }

  /** Made once it is wanted: mostly the paths alone tell that there is none. */
  private movingCopy(): MovingCopy {
    const { soundLength, margin, places, step } = this;
    taps ??= TAPS.whole();
    return new MovingCopy({
      soundLength,
      margin,
      places,
      step,
      table: { taps, taken: 2 * HALF_TAPS, steps: TAPS.steps },
    });
  }

  /** Where along a stretch the copy comes, by what the reference does not explain as it is. */
  private path(reference: Float64Array, other: Float64Array, [least, most]: [number, number], every = 1): ArrivalPath {
    const { margin, half, reach, step, places, fastest, finder, room } = this;
    const mark = room.mark();
    const rest = withoutDirect(reference, other, margin, room.take(other.length));
    const windows = Array.from({ length: Math.ceil(places / every) }, (_, k) => {
      const at = margin + k * every * step;
      const from = Math.max(0, at - half - reach);
      const source = reference.subarray(from, at + half);
      const target = room.take(source.length).fill(0);
      target.set(rest.subarray(at - half, at + half), at - half - from);
      return [source, target] as const;
    });
    const path = arrivalPath(finder.correlate(windows, room), { least, most, fastest: every * fastest });
    room.backTo(mark);
    return path;
  }
}

/** What is left once the reference is taken off as it is. @param rest to be filled */
function withoutDirect(reference: Float64Array, other: Float64Array, margin: number, rest: Float64Array): Float64Array {
  const end = reference.length - margin;
  const { left: squares, both: products } = sumsOfProducts(
    reference.subarray(margin, end),
    other.subarray(margin, end),
  );
  const direct = squares > 0 ? products / squares : 0;
  const { length } = other;
  for (let i = 0; i < length; i++) rest[i] = other[i] - direct * reference[i];
  return rest;
}

function powerWithin(sound: Float64Array, margin: number): number {
  return sumOfSquares(sound.subarray(margin, sound.length - margin));
}

function summed(one: Products, other: Products): Products {
  return one.map((product, i) => product + other[i]) as Products;
}

/** Gains of the reference and its copy that leave least of the other. */
function bothGains([aa, ab, bb, ax, bx]: Products): [direct: number, swaying: number] {
  const determinant = aa * bb - ab * ab;
  if (determinant <= 1e-9 * aa * bb) return [aa > 0 ? ax / aa : 0, 0];
  return [(bb * ax - ab * bx) / determinant, (aa * bx - ab * ax) / determinant];
}

function powerLeft(
  [reference, other]: [Float64Array, Float64Array],
  copy: Float64Array,
  [direct, swaying]: [number, number],
  margin: number,
): number {
  let sum = 0;
  for (let i = 0; i < copy.length; i++)
    sum += (other[margin + i] - direct * reference[margin + i] - swaying * copy[i]) ** 2;
  return sum;
}

/** Adds what holds the course straight where the sound says nothing of it. */
function stiffen(matrix: Float64Array[], right: Float64Array, delays: readonly number[], stiffness: number): void {
  for (let k = 1; k < delays.length - 1; k++) {
    const bend = delays[k - 1] - 2 * delays[k] + delays[k + 1];
    const weights = [1, -2, 1];
    for (let a = 0; a < 3; a++) {
      right[k - 1 + a] -= stiffness * weights[a] * bend;
      for (let b = 0; b < 3; b++) matrix[k - 1 + a][k - 1 + b] += stiffness * weights[a] * weights[b];
    }
  }
  for (let k = 0; k < delays.length; k++) matrix[k][k] += 1e-6 * stiffness + 1e-30;
}
