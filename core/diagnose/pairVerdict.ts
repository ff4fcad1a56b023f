import type { ChannelMeasurement, PairMeasurement } from '../measure/measurement.ts';
import { percentile } from '../measure/noiseFloor.ts';
import { levelOrNull, type PairReport } from '../schema/inspection.ts';
import type { PairVerdict, Side } from '../schema/verdict.ts';
import { dbFromPower } from '../signal/decibels.ts';
import { mean, type ChannelActivity } from './channelActivity.ts';

export interface PairDecision {
  report: PairReport;
  /** Why a person must look at a pair that is called stereo for want of a better word; null where it is sound. */
  doubt: string | null;
}

// The boundaries of the verdicts.
const ONE_SIDED_DB = 30;
const DUAL_MONO_NULL_DB = -40;
// Two people on two microphones: the side that is louder changes by more than a stereo pair's sides do.
const TAKES_TURNS_SPREAD_DB = 12;
// A pair this alike that does not null is one signal made to look different.
const NEARLY_EQUAL_CORRELATION = 0.98;
const UPSIDE_DOWN_CORRELATION = -0.3;
// How many decibels from a boundary make a verdict two thirds surer.
const CONFIDENCE_SPREAD_DB = 6;
const SHORT_SECONDS = 1;
const DOUBTFUL = 0.5;

export function decidePair(
  pair: PairMeasurement, channels: [ChannelMeasurement, ChannelMeasurement], activity: [ChannelActivity, ChannelActivity],
): PairDecision {
  const nullDepthDb = nullDepth(pair);
  const ratioDb = programmeRatioDb(channels, activity);
  const { verdict, side, marginDb } = verdictOf(activity, nullDepthDb, ratioDb);
  const seconds = Math.max(activity[0].activeSeconds, activity[1].activeSeconds);
  const [left, right] = channels;
  const doubt = verdict === 'stereo' ? doubtAbout(pair, channels, activity) : null;
  return {
    report: {
      channels: pair.channels,
      verdict,
      side,
      disguise: [],
      confidence: doubt ? DOUBTFUL : confidence(marginDb, seconds),
      correlation: correlation(pair),
      balanceLu: levelOrNull(left.loudnessLufs - right.loudnessLufs),
      nullDepthDb: levelOrNull(nullDepthDb),
      matchedNullDepthDb: null,
      gainDb: null,
      delaySamples: null,
      polarity: null,
      sumLossDb: sumLoss(pair),
    },
    doubt,
  };
}

function verdictOf(
  [left, right]: [ChannelActivity, ChannelActivity], nullDepthDb: number, ratioDb: number,
): { verdict: PairVerdict; side: Side | null; marginDb: number } {
  const leftSpeaks = left.content === 'programme';
  const rightSpeaks = right.content === 'programme';
  if (!leftSpeaks && !rightSpeaks) return { verdict: 'silent', side: null, marginDb: 20 };
  if (leftSpeaks !== rightSpeaks) {
    return { verdict: 'one-sided', side: leftSpeaks ? 'left' : 'right', marginDb: 20 };
  }
  if (Math.abs(ratioDb) >= ONE_SIDED_DB) {
    return { verdict: 'one-sided', side: ratioDb > 0 ? 'left' : 'right', marginDb: Math.abs(ratioDb) - ONE_SIDED_DB };
  }
  if (nullDepthDb <= DUAL_MONO_NULL_DB) return { verdict: 'dual-mono', side: null, marginDb: DUAL_MONO_NULL_DB - nullDepthDb };
  return {
    verdict: 'stereo', side: null, marginDb: Math.min(nullDepthDb - DUAL_MONO_NULL_DB, ONE_SIDED_DB - Math.abs(ratioDb)),
  };
}

/** RMS of L - R relative to L + R, in dB; -Infinity where the sides are equal. */
function nullDepth({ product, squares, differenceSquare }: PairMeasurement): number {
  const sumSquare = squares[0] + squares[1] + 2 * product;
  return differenceSquare === 0 ? -Infinity : dbFromPower(differenceSquare / Math.max(sumSquare, Number.MIN_VALUE));
}

function correlation({ product, squares }: PairMeasurement): number | null {
  const scale = Math.sqrt(squares[0] * squares[1]);
  return scale === 0 ? null : Math.max(-1, Math.min(1, product / scale));
}

/** How much level the mono sum (L + R) / 2 loses against the louder side, in dB; 0 where it loses nothing. */
function sumLoss({ product, squares }: PairMeasurement): number | null {
  const louder = Math.max(squares[0], squares[1]);
  if (louder === 0) return 0;
  const sumSquare = Math.max(0, (squares[0] + squares[1] + 2 * product) / 4);
  return levelOrNull(Math.max(0, dbFromPower(louder) - dbFromPower(sumSquare)));
}

/**
 * Left programme over right programme in dB, where either side stands out of its floor. Each side's
 * floor is taken off first, so that hiss under the programme does not count as programme.
 */
function programmeRatioDb(
  [left, right]: [ChannelMeasurement, ChannelMeasurement], [leftActivity, rightActivity]: [ChannelActivity, ChannelActivity],
): number {
  const active = leftActivity.active.map((speaks, i) => speaks || rightActivity.active[i]);
  const above = (powers: Float64Array, floor: number): number => (
    mean(powers.filter((_, i) => active[i]).map((power) => Math.max(0, power - floor)))
  );
  return dbFromPower(
    above(left.blockSpeechPower, leftActivity.floorPower) / above(right.blockSpeechPower, rightActivity.floorPower),
  );
}

function doubtAbout(
  pair: PairMeasurement, [left, right]: [ChannelMeasurement, ChannelMeasurement], activity: [ChannelActivity, ChannelActivity],
): string | null {
  const alike = correlation(pair) ?? 0;
  if (alike < UPSIDE_DOWN_CORRELATION) return 'The sides largely cancel when they are summed: one of them may be upside down.';
  if (alike > NEARLY_EQUAL_CORRELATION) return 'The sides are almost the same: this may be one voice on both sides.';
  const differences: number[] = [];
  left.blockSpeechPower.forEach((power, i) => {
    if (activity[0].active[i] || activity[1].active[i]) differences.push(dbFromPower(power / right.blockSpeechPower[i]));
  });
  const spreadDb = percentile(differences, 0.9) - percentile(differences, 0.1);
  return spreadDb > TAKES_TURNS_SPREAD_DB ? 'The sides take turns being louder: these may be two microphones.' : null;
}

function confidence(marginDb: number, activeSeconds: number): number {
  const sure = 1 - 0.5 * Math.exp(-Math.max(0, marginDb) / CONFIDENCE_SPREAD_DB);
  const enough = activeSeconds >= SHORT_SECONDS ? 1 : 0.7 + 0.3 * activeSeconds;
  return Math.round(Math.min(0.99, sure * enough) * 100) / 100;
}
