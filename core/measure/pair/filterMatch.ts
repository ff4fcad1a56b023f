import type { FilterExample } from '../../kernels/leastSquares.ts';
import { TapSlider } from '../../kernels/tapSlider.ts';
import { dbFromPower } from '../../signal/decibels.ts';
import { beyondNoise, depthFromResidual } from '../spectra/nullDepths.ts';
import { fitShortFilter, type ShortFilter } from '../spectra/shortFilter.ts';
import { dyingResidualDb, type Foretold } from './dyingResidual.ts';
import type { MatchInput, StretchSound } from './matchInput.ts';

export const SHORT_TAPS_SECONDS = 0.0027;
export const LONG_TAPS_SECONDS = 0.016;
/** Whether a few stretches null at all is seen with half of it, for a quarter of the time. */
export const PEEK_TAPS_SECONDS = LONG_TAPS_SECONDS / 2;
export const MOST_FILTER_STRETCHES = 12;
const FILTER_SECONDS = 0.17;
// Where a filter leaves less than this, no longer one is needed.
const DEEP_ENOUGH_DB = -26;

export interface FilterMatch {
  matchedDb: number;
  leftFromRightDb: number;
  rightFromLeftDb: number;
  /** Of the stretches with unlike levels, how much of the one that is foretold the worst is not, whatever its gain, by the better way round: 0..1. */
  unforetold: () => number;
  /** How much more of these stretches is left of what dies away than of what sets in, in dB, of both ways round; null where that can't be told. */
  dyingDb: (sounds: StretchSound[]) => number | null;
}

/**
 * A filter may have no inverse, so both ways are tried; a long one only where a short one is not enough.
 * @param longSeconds of that one, which takes six times as long; none where no such filter could be
 */
export function filterBothWays(input: MatchInput, shift: number, longSeconds: number | null): FilterMatch {
  const every = Math.ceil(input.active.length / MOST_FILTER_STRETCHES);
  const chosen = { ...input, active: input.active.filter((_, i) => i % every === 0) };
  const short = filterWith(chosen, shift, tapsIn(SHORT_TAPS_SECONDS, chosen), 0.5);
  if (short.matchedDb < DEEP_ENOUGH_DB || longSeconds === null) return short;
  const long = filterWith(chosen, shift, tapsIn(longSeconds, chosen), 0.125);
  return long.matchedDb < short.matchedDb ? { ...long, dyingDb: short.dyingDb } : short;
}

export function tapsIn(seconds: number, { sampleRate }: MatchInput): number {
  return 16 * Math.max(1, Math.round((seconds * sampleRate) / 16));
}

export function filterWith(
  { sampleRate, margin, active, pauses, unlike }: MatchInput,
  shift: number,
  taps: number,
  before: number,
): FilterMatch {
  const count = Math.min(Math.round(FILTER_SECONDS * sampleRate), active[0].left.length - 2 * margin);
  const ahead = Math.round(taps * before);
  const examples = (sounds: StretchSound[], rightFromLeft: boolean, length = count): FilterExample[] =>
    sounds.map(({ left, right }) => {
      const [source, target] = rightFromLeft ? [left, right] : [right, left];
      const lag = rightFromLeft ? shift : -shift;
      // Target sample n is foretold from source samples around n - lag: most of them earlier, `ahead` of them later.
      const first = margin + Math.max(0, lag);
      const sourceFirst = first - lag - (taps - 1 - ahead);
      return {
        target: target.subarray(first, first + length),
        source: source.subarray(sourceFirst, sourceFirst + length + taps),
      };
    });
  const filters = [false, true].map((rightFromLeft) =>
    fitShortFilter(examples(active, rightFromLeft), examples(pauses, rightFromLeft), taps),
  );
  const [left, right] = filters.map(({ targetPower, pauseTargetPower, residualPower, pauseResidualPower }) => {
    const target = Math.max(beyondNoise(targetPower, pauseTargetPower), Number.MIN_VALUE);
    return Math.max(beyondNoise(residualPower, pauseResidualPower), 1e-7 * target) / target;
  });
  return {
    matchedDb: depthFromResidual(Math.min(left, right)),
    leftFromRightDb: dbFromPower(left),
    rightFromLeftDb: dbFromPower(right),
    unforetold: () => {
      const length = unlike[0].left.length - 2 * margin;
      const ways = [false, true].map((rightFromLeft, way) =>
        examples(unlike, rightFromLeft, length).map((example) => unforetoldShare(example, filters[way])),
      );
      return Math.max(0, ...ways[0].map((share, i) => Math.min(share, ways[1][i])));
    },
    dyingDb: (sounds) => {
      const length = sounds[0].left.length - 2 * margin;
      const [one, other] = [false, true].map((rightFromLeft, way) => {
        const [heard, quiet] = [sounds, pauses].map((some) =>
          examples(some, rightFromLeft, length).map((example) => foretold(example, filters[way])),
        );
        return dyingResidualDb(heard, quiet, sampleRate);
      });
      return one === null || other === null ? null : (one + other) / 2;
    },
  };
}

function foretold({ source, target }: FilterExample, { taps }: ShortFilter): Foretold {
  const residual = new Float64Array(target.length);
  new TapSlider(taps).slide(source, residual, target.length);
  for (let n = 0; n < target.length; n++) residual[n] = target[n] - residual[n];
  return { target, residual };
}

/** What is left of a moment by chance may be as much more than is left elsewhere. */
export const MORE_BY_CHANCE = 3;

/** Of a target, the share of its power that a filter of its source leaves with the gain that suits it best, beyond what is left of all and beyond noise; 0..1. */
function unforetoldShare(
  { source, target }: FilterExample,
  { taps, residualPower, pauseTargetPower }: ShortFilter,
): number {
  const foretold = new Float64Array(target.length);
  new TapSlider(taps).slide(source, foretold, target.length);
  let product = 0;
  let foretoldSquares = 0;
  let squares = 0;
  for (let n = 0; n < target.length; n++) {
    product += foretold[n] * target[n];
    foretoldSquares += foretold[n] * foretold[n];
    squares += target[n] * target[n];
  }
  const left = squares - product ** 2 / Math.max(foretoldSquares, Number.MIN_VALUE);
  const usual = MORE_BY_CHANCE * target.length * Math.max(residualPower, pauseTargetPower);
  return squares > 0 ? Math.max(0, left - usual) / squares : 0;
}
