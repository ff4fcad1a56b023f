import { CLEAR_ARRIVAL, NOTHING_POWER } from '../measure/boundaries.ts';
import type { ChannelMeasurement, MatchedSegment } from '../measure/measurement.ts';
import { percentile } from '../measure/stream/noiseFloor.ts';
import { dbFromPower } from '../signal/decibels.ts';
import { blocksIn } from '../time/spans.ts';
import { PAUSE_SHARE, QUIETEST_SHARE, SAME_NOISE_DB, STEADY_NOISE_DB, UNRELATED_INCOHERENT } from './boundaries.ts';
import { isDoubtful } from './confidence.ts';
import type { SegmentVerdict } from './segment.ts';

export interface Decided extends SegmentVerdict {
  segment: MatchedSegment;
}

const NOTHING_DB = dbFromPower(NOTHING_POWER);
// Who sits still is heard from one place, to a centimetre of sound's way and what a voice's own sound moves the level by.
const SAME_ARRIVAL_SAMPLES = 1.5;
const SAME_GAIN_DB = 1.5;
// Chosen, not measured: a knock or two while the one side pauses make a part of a second or so, beside several seconds of it.
const MOMENT_SHARE = 0.25;

/** The verdicts on the segments of a pair in the light of each other: a pause of one of two people is no change. */
export function settled(decided: Decided[], channels: [ChannelMeasurement, ChannelMeasurement]): Decided[] {
  return allBeside(inOneMix(oneField(sameApart(decided))), channels);
}

/** Of two that share nothing in one part, what shares nothing in another either is no sound field. */
function sameApart(decided: Decided[]): Decided[] {
  const apart = decided.find(({ verdict, segment }) => verdict === 'two-mics' && sharesNothing(segment));
  if (!apart) return decided;
  return decided.map((own) => {
    const { match } = own.segment;
    return own.verdict === 'stereo' && match && match.incoherent > UNRELATED_INCOHERENT
      ? { ...apart, segment: own.segment }
      : own;
  });
}

/** Nobody puts a pair in place of two microphones while a clip runs: of the two, what is told less surely, and would be left to a person, is what the other is. */
function oneField(decided: Decided[]): Decided[] {
  const told = (of: Decided['verdict']): Decided | undefined =>
    decided.filter(({ verdict }) => verdict === of).sort((a, b) => weightOf(b) - weightOf(a))[0];
  const pair = told('stereo');
  const apart = told('two-mics');
  if (!pair || !apart) return decided;
  const [surer, other] = weightOf(pair) > weightOf(apart) ? [pair, apart] : [apart, pair];
  return decided.map((own) =>
    own.verdict === other.verdict && (isDoubtful(own) || standAlike(own.segment, surer.segment))
      ? { ...surer, segment: own.segment }
      : own,
  );
}

/** Whether what is heard in two parts comes as much later and louder to one side: nobody moved anything between them. */
function standAlike({ match: one }: MatchedSegment, { match: other }: MatchedSegment): boolean {
  if (!one || !other || Math.min(one.arrival.prominence, other.arrival.prominence) < CLEAR_ARRIVAL) return false;
  return (
    Math.abs(one.delaySamples - other.delaySamples) <= SAME_ARRIVAL_SAMPLES &&
    Math.abs(one.gainDb - other.gainDb) <= SAME_GAIN_DB
  );
}

/** Who stands to one hand in a mix and speaks alone for a while seems one signal of two levels, and is part of the mix. */
function inOneMix(decided: Decided[]): Decided[] {
  const [mix] = decided
    .filter(({ verdict, segment }) => verdict === 'stereo' && isMixed(segment))
    .sort((a, b) => weightOf(b) - weightOf(a));
  if (!mix) return decided;
  return decided.map((own) => (standsInMix(own, mix.segment) ? { ...mix, segment: own.segment } : own));
}

/** Whether what is louder left and what is louder right both come at once, as in a mix. */
function isMixed({ match }: MatchedSegment): boolean {
  return (
    match !== null &&
    [match.leaning.left, match.leaning.right].every(
      ({ stretches, prominence, delaySamples }) =>
        stretches >= 2 && prominence >= CLEAR_ARRIVAL && Math.abs(delaySamples) <= SAME_ARRIVAL_SAMPLES,
    )
  );
}

/** Whether it is one signal but for its level, and that is the level of what leans to one hand in the mix. */
function standsInMix({ verdict, disguise, segment: { match } }: Decided, { match: mix }: MatchedSegment): boolean {
  if (verdict !== 'fake-stereo' || !match || !mix) return false;
  if (disguise.some((how) => how !== 'level') || match.gainMovesDb > 0) return false;
  return [mix.leaning.left, mix.leaning.right].some(
    ({ levelDifferenceDb }) => Math.abs(match.gainDb + levelDifferenceDb) <= SAME_GAIN_DB,
  );
}

function weightOf({ confidence, segment }: Decided): number {
  return confidence * blocksIn(segment);
}

/** What is settled settles what stands beside it. */
function allBeside(decided: Decided[], channels: [ChannelMeasurement, ChannelMeasurement]): Decided[] {
  let sure = decided.map((_, i) => besideOthers(i, decided, channels));
  for (let changes = true; changes;) {
    const next = sure.map((own, i) => (own.verdict === 'one-sided' ? besideOthers(i, sure, channels) : own));
    changes = next.some(({ verdict }, i) => verdict !== sure[i].verdict);
    sure = next;
  }
  return sure;
}

/**
 * Where one side is alone by its blocks but not by the boundary of the verdict, nothing is told, and it is what it stands beside. So is one of
 * two people who speaks for so long that the other's microphone hears next to nothing: it has not gone where it still moves with the voice, or
 * is as quiet as in its pauses.
 */
function besideOthers(index: number, decided: Decided[], channels: [ChannelMeasurement, ChannelMeasurement]): Decided {
  const own = decided[index];
  const { state } = own.segment;
  if ((state !== 'left-only' && state !== 'right-only') || own.verdict === 'silent') return own;
  const { blockSpeechPower } = channels[state === 'left-only' ? 1 : 0];
  const levelDb = ({ segment: { startBlock: from, endBlock: to } }: Decided, share: number): number =>
    dbFromPower(percentile(blockSpeechPower.subarray(from + 1, to - 1), share) + 1e-14);
  const here = state === 'left-only' ? 'left' : 'right';
  // What the other side has does not make this one empty where it is alone for more than a moment of it.
  const contradicts = ({ verdict, side, segment }: Decided): boolean =>
    verdict === 'one-sided' && side !== here && blocksIn(own.segment) > MOMENT_SHARE * blocksIn(segment);
  const beside = [decided[index - 1], decided[index + 1]]
    .filter(Boolean)
    .sort((a, b) => blocksIn(b.segment) - blocksIn(a.segment))
    .find((one) => (own.verdict !== 'one-sided' || one.verdict === 'two-mics') && !contradicts(one));
  if (!beside) return own;
  // What shares nothing is no part of one signal on both sides.
  if ((beside.verdict === 'dual-mono' || beside.verdict === 'fake-stereo') && sharesNothing(own.segment)) return own;
  const moves = levelDb(own, 0.9) - levelDb(own, 0.1) > STEADY_NOISE_DB;
  const sameNoise = Math.abs(levelDb(own, QUIETEST_SHARE) - levelDb(beside, QUIETEST_SHARE)) < SAME_NOISE_DB;
  // Where they share nothing and it is never heard to pause beside, this may be its first pause.
  const neverPauses = levelDb(beside, PAUSE_SHARE) - levelDb(beside, QUIETEST_SHARE) > STEADY_NOISE_DB;
  const mayPause = sharesNothing(beside.segment) && neverPauses && levelDb(own, QUIETEST_SHARE) > NOTHING_DB;
  return own.verdict === 'one-sided' && !moves && !sameNoise && !mayPause ? own : { ...beside, segment: own.segment };
}

/** Neither an arrival nor a filter that would foretell one side from the other. */
function sharesNothing({ match }: MatchedSegment): boolean {
  return match !== null && match.incoherent > UNRELATED_INCOHERENT && match.arrival.prominence < CLEAR_ARRIVAL;
}
