import type { SecondsSpan } from '../../time/spans.ts';
import type { Evidence, MatchEvidence } from '../../schema/evidence.ts';
import { levelOrNull } from '../../schema/inspection.ts';
import { dbFromPower } from '../../signal/decibels.ts';
import { coherence } from '../spectra/crossSpectrum.ts';
import type { Measurement } from '../measurement.ts';
import { delayAtStart } from './drift.ts';
import type { LeaningArrival, PairMatch } from './pairMatch.ts';

const MOST_STEPS = 240;
const FINE_MS = 5;
const COARSE_MS = 0.25;
const LOWEST_HZ = 60;
const BANDS_PER_OCTAVE = 6;
const QUIETEST_DB = -120;

/** What can be drawn of a pair's measurement: bounded in size however long the clip is. */
export function evidenceOf(
  measurement: Measurement,
  channels: [number, number],
  match: PairMatch | null,
  { startSeconds, endSeconds }: SecondsSpan,
): Evidence {
  const [left, right] = channels.map((channel) => measurement.channels[channel - 1].blockSpeechPower);
  const group = Math.max(1, Math.ceil(left.length / MOST_STEPS));
  return {
    channels,
    startSeconds,
    endSeconds,
    balance: {
      stepSeconds: group * measurement.blockSeconds,
      leftDb: levels(left, group),
      rightDb: levels(right, group),
    },
    match: match && matchEvidence(match, measurement.sampleRate, startSeconds),
  };
}

/** @param startSeconds where what was matched begins in the clip */
function matchEvidence(match: PairMatch, sampleRate: number, startSeconds: number): MatchEvidence {
  return {
    stretches: match.stretches,
    pauses: match.pauses,
    polarity: match.polarity < 0 ? 'inverted' : 'normal',
    gainDb: levelOrNull(match.gainDb),
    delaySamples: delayAtStart(match, Math.round(startSeconds * sampleRate)),
    driftPpm: match.driftPpm,
    jump: match.jump && {
      atSeconds: startSeconds + match.jump.atFrame / sampleRate,
      delaySamples: match.jump.samples,
    },
    gainMovesDb: match.gainMovesDb,
    limited: match.limited,
    echoSeconds: match.echoSeconds,
    sway: match.sway,
    plainNullDb: levelOrNull(match.plainNullDb),
    levelNullDb: levelOrNull(match.levelNullDb),
    alignedNullDb: levelOrNull(match.alignedNullDb),
    matchedNullDb: levelOrNull(match.matchedNullDb),
    leftFromRightDb: levelOrNull(match.leftFromRightDb),
    rightFromLeftDb: levelOrNull(match.rightFromLeftDb),
    incoherentShare: match.incoherent,
    prominence: match.arrival.prominence,
    leaning: { left: leaningOf(match.leaning.left), right: leaningOf(match.leaning.right) },
    arrival: arrivalCurve(match, sampleRate),
    spectrum: bands(match),
    scope: match.scope,
  };
}

function leaningOf({
  delaySamples,
  prominence,
  levelDifferenceDb,
  stretches,
}: LeaningArrival): MatchEvidence['leaning']['left'] {
  return { delaySamples, prominence, levelDifferenceDb, stretches };
}

function levels(powers: Float64Array, group: number): (number | null)[] {
  return Array.from({ length: Math.ceil(powers.length / group) }, (_, i) => {
    const part = powers.subarray(i * group, (i + 1) * group);
    const db = dbFromPower(part.reduce((sum, power) => sum + power, 0) / part.length);
    return db < QUIETEST_DB ? null : db;
  });
}

/** The curve lag by lag near the middle; further out, of each group of lags the one that stands out most, so that no peak is lost. */
function arrivalCurve(
  { correlogram: { values, reach, perSample } }: PairMatch,
  sampleRate: number,
): MatchEvidence['arrival'] {
  const perMillisecond = (perSample * sampleRate) / 1000;
  const milliseconds: number[] = [];
  const correlation: number[] = [];
  for (let from = 0; from < values.length;) {
    const fine = Math.abs(from - reach) <= FINE_MS * perMillisecond;
    const to = fine ? from + 1 : Math.min(values.length, from + Math.max(1, Math.round(COARSE_MS * perMillisecond)));
    let best = from;
    for (let i = from + 1; i < to; i++) if (Math.abs(values[i]) > Math.abs(values[best])) best = i;
    milliseconds.push((best - reach) / perMillisecond);
    correlation.push(values[best]);
    from = to;
  }
  return { milliseconds, correlation };
}

function bands({ wholeBand: { spectrum } }: PairMatch): MatchEvidence['spectrum'] {
  const agreement = coherence(spectrum);
  const binHz = spectrum.sampleRate / (2 * (spectrum.left.length - 1));
  const result: MatchEvidence['spectrum'] = { hz: [], leftDb: [], rightDb: [], coherence: [] };
  for (let low = LOWEST_HZ; low < spectrum.sampleRate * 0.48; low *= 2 ** (1 / BANDS_PER_OCTAVE)) {
    const from = Math.max(1, Math.round(low / binHz));
    const to = Math.max(from + 1, Math.round((low * 2 ** (1 / BANDS_PER_OCTAVE)) / binHz));
    const mean = (values: Float64Array): number =>
      values.subarray(from, to).reduce((sum, value) => sum + value, 0) / (to - from);
    if (to > spectrum.left.length) break;
    result.hz.push(Math.round(low * 10) / 10);
    result.leftDb.push(Math.max(QUIETEST_DB, dbFromPower(mean(spectrum.left))));
    result.rightDb.push(Math.max(QUIETEST_DB, dbFromPower(mean(spectrum.right))));
    result.coherence.push(mean(agreement));
  }
  const loudest = Math.max(...result.leftDb, ...result.rightDb);
  const relative = (values: number[]): number[] => values.map((db) => Math.max(QUIETEST_DB, db - loudest));
  return { ...result, leftDb: relative(result.leftDb), rightDb: relative(result.rightDb) };
}
