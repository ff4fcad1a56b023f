import { dbFromPower } from '../../signal/decibels.ts';
import { lowerRate } from '../spectra/lowerRate.ts';
import { beyondNoise, depthFromResidual } from '../spectra/nullDepths.ts';
import { fitShortFilter, type FilterExample } from '../spectra/shortFilter.ts';
import type { MatchInput, StretchSound } from './matchInput.ts';

export const SHORT_TAPS_SECONDS = 0.0027;
export const LONG_TAPS_SECONDS = 0.016;
// A long filter is for rooms and crossovers; almost all the power they shape lies below 12 kHz.
const LONG_FILTER_RATE = 40000;
export const MOST_FILTER_STRETCHES = 12;
const FILTER_SECONDS = 0.17;
// Where a filter leaves less than this, no longer one is needed.
const DEEP_ENOUGH_DB = -26;

export interface FilterMatch {
  matchedDb: number;
  leftFromRightDb: number;
  rightFromLeftDb: number;
}

/** A filter may have no inverse, so both ways are tried; a long one only where a short one is not enough. */
export function filterBothWays(input: MatchInput, shift: number): FilterMatch {
  const every = Math.ceil(input.active.length / MOST_FILTER_STRETCHES);
  const chosen = { ...input, active: input.active.filter((_, i) => i % every === 0) };
  const short = filterWith(chosen, shift, tapsIn(SHORT_TAPS_SECONDS, chosen), 0.5);
  if (short.matchedDb < DEEP_ENOUGH_DB) return short;
  const lowered = chosen.sampleRate > LONG_FILTER_RATE ? atHalfRate(chosen) : chosen;
  const long = filterWith(
    lowered,
    Math.round((shift * lowered.sampleRate) / input.sampleRate),
    tapsIn(LONG_TAPS_SECONDS, lowered),
    0.125,
  );
  return long.matchedDb < short.matchedDb ? long : short;
}

function atHalfRate({ sampleRate, margin, active, pauses }: MatchInput): MatchInput {
  const lowered = ({ startFrame, left, right }: StretchSound): StretchSound => ({
    startFrame,
    left: lowerRate(left, 1),
    right: lowerRate(right, 1),
  });
  return { sampleRate: sampleRate / 2, margin: margin / 2, active: active.map(lowered), pauses: pauses.map(lowered) };
}

export function tapsIn(seconds: number, { sampleRate }: MatchInput): number {
  return 16 * Math.max(1, Math.round((seconds * sampleRate) / 16));
}

export function filterWith(
  { sampleRate, margin, active, pauses }: MatchInput,
  shift: number,
  taps: number,
  before: number,
): FilterMatch {
  const count = Math.min(Math.round(FILTER_SECONDS * sampleRate), active[0].left.length - 2 * margin);
  const ahead = Math.round(taps * before);
  const examples = (sounds: StretchSound[], rightFromLeft: boolean): FilterExample[] =>
    sounds.map(({ left, right }) => {
      const [source, target] = rightFromLeft ? [left, right] : [right, left];
      const lag = rightFromLeft ? shift : -shift;
      // Target sample n is foretold from source samples around n - lag: most of them earlier, `ahead` of them later.
      const first = margin + Math.max(0, lag);
      const sourceFirst = first - lag - (taps - 1 - ahead);
      return {
        target: target.subarray(first, first + count),
        source: source.subarray(sourceFirst, sourceFirst + count + taps),
      };
    });
  const residual = (rightFromLeft: boolean): number => {
    const filter = fitShortFilter(examples(active, rightFromLeft), examples(pauses, rightFromLeft), taps);
    const target = Math.max(beyondNoise(filter.targetPower, filter.pauseTargetPower), Number.MIN_VALUE);
    return Math.max(beyondNoise(filter.residualPower, filter.pauseResidualPower), 1e-7 * target) / target;
  };
  const [left, right] = [residual(false), residual(true)];
  return {
    matchedDb: depthFromResidual(Math.min(left, right)),
    leftFromRightDb: dbFromPower(left),
    rightFromLeftDb: dbFromPower(right),
  };
}
