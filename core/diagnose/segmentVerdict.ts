import { markedOf, marksApart, marksOfEither, totalOf, valuesAbove } from '../kernels/blockSeries.ts';
import type { ChannelMeasurement, MatchedSegment } from '../measure/measurement.ts';
import { incoherentShare } from '../measure/spectra/crossSpectrum.ts';
import {
  CLEAR_ARRIVAL,
  CODED_LOW_NULL_DB,
  DISGUISED_GAIN_DB,
  DISGUISED_NULL_DB,
  NOTHING_POWER,
  ONE_SIDED_DB,
  ONE_SIGNAL_NULL_DB,
} from '../measure/boundaries.ts';
import { percentile } from '../measure/stream/noiseFloor.ts';
import type { PairMatch } from '../measure/pair/pairMatch.ts';
import type { Disguise, Spoken } from '../schema/inspection.ts';
import type { PairVerdict, Side } from '../schema/verdict.ts';
import { dbFromPower } from '../signal/decibels.ts';
import {
  RATIO_SPREAD_DB,
  BRIEF_SECONDS,
  BRIEF_SHARE,
  STEADY_APART_DB,
  NO_NOISE_MOVES_DB,
  NULL_SPREAD_DB,
  SURELY_CODED_NULL_DB,
  PROGRAMME_COHERENCE,
  MIX_NULL_DB,
  SLIGHT_FILTER_NULL_DB,
  SURELY_FILTERED_NULL_DB,
  DISTANT_NULL_DB,
  DISTANT_MS,
  DISTANT_SCORE,
  OF_ITS_OWN,
  SURELY_SHARED_HEIGHT,
  SHARED_HZ,
  SHARED_INCOHERENT,
  SURELY_SHARED_PROMINENCE,
  LEVEL_DB,
  DELAY_SAMPLES,
  FILTER_GAIN_DB,
  FILTER_NULL_DB,
  INCOHERENT_SPREAD,
  ARRIVAL_BY_CHANCE,
  SCORE_SPREAD,
  TURNED_OVER_NULL_DB,
  CERTAIN_MARGIN,
  CODED_MARGIN,
  DOUBTFUL_MARGIN,
  UNDECIDED_MARGIN,
  ONE_PLACE_MARGIN,
  OVER_MARGIN,
} from './boundaries.ts';
import { mean, type ChannelActivity } from './channelActivity.ts';
import { isCodedBand, isCodedCopy, isOneButForTreble, isRoomBetween } from './nearlyOne.ts';
import { confidenceFrom } from './confidence.ts';
import { isHeardOnce } from './heardOnce.ts';
import { middleOf, perhapsMiddleOf, softerSays } from './middleAndSide.ts';
import {
  aloneSays,
  codedBandSays,
  codedCopySays,
  disguisedSays,
  emptySays,
  ofItsOwnSays,
  roomBetweenSays,
  sameSays,
  turnedOverSays,
  unrelatedSays,
} from './spoken.ts';
import {
  hearsOnePlace,
  leastUnrelated,
  nearAndFarScore,
  pausesOf,
  twoMicrophonesSpeak,
  type Pauses,
} from './twoMicrophones.ts';

export interface SegmentVerdict {
  verdict: PairVerdict;
  side: Side | null;
  disguise: Disguise[];
  /** Of middle and side, the side that holds the middle. */
  middle: Side | null;
  /** The strongest first. */
  spoke: Spoken[];
  /** How far it is from the nearest other verdict, in spreads of what decided. */
  margin: number;
  /** How long there is something to tell it by. */
  activeSeconds: number;
  confidence: number;
}

export interface SegmentInput {
  segment: MatchedSegment;
  /** As they are within the segment. */
  channels: [ChannelMeasurement, ChannelMeasurement];
  activity: [ChannelActivity, ChannelActivity];
  /** Mean square of left less right of each block of the segment, in the band of speech. */
  differencePower: Float64Array;
  sampleRate: number;
  blockSeconds: number;
}

/** The verdict on one segment of a pair. */
export function decideSegment(input: SegmentInput): SegmentVerdict {
  const { segment, activity } = input;
  const inside = activity.map(({ active }) => active);
  const seconds = Math.max(...activity.map(({ activeSeconds }) => activeSeconds));
  const decide = (verdict: PairVerdict, told: number, rest: Partial<SegmentVerdict> = {}): SegmentVerdict => {
    const margin = verdict === 'dual-mono' && mayHideAMix(input) ? Math.min(told, DOUBTFUL_MARGIN) : told;
    const activeSeconds = verdict === 'silent' ? 1 : seconds;
    return {
      ...{ verdict, side: null, disguise: [], middle: null, spoke: [], margin, activeSeconds },
      ...rest,
      confidence: confidenceFrom(margin, activeSeconds),
    };
  };
  let speaks = activity.map(({ content }, s) => content === 'programme' && inside[s].includes(1));
  if (!speaks[0] && !speaks[1]) return decide('silent', CERTAIN_MARGIN);
  if (speaks[0] !== speaks[1] && bothSteady(input)) speaks = [true, true];

  const ratioDb = programmeRatioDb(input, marksOfEither(inside[0], inside[1]));
  const alone = Math.abs(ratioDb) - ONE_SIDED_DB;
  const sharedDb = speaks[0] !== speaks[1] || alone >= 0 ? sharedRatioDb(input) : null;
  if (sharedDb !== null && sharedDb < ONE_SIDED_DB) {
    const bothMargin = (ONE_SIDED_DB - sharedDb) / RATIO_SPREAD_DB;
    return decideBySecondLook(segment.match!, input.sampleRate, null, bothMargin, decide);
  }
  if (speaks[0] !== speaks[1]) {
    const side = speaks[0] ? 'left' : 'right';
    const margin = Math.min(
      mayHoldAWord(input, side) ? DOUBTFUL_MARGIN : CERTAIN_MARGIN,
      // Hiss with the other's sound in it is hiss the surer the softer that sound is.
      sharedDb === null ? CERTAIN_MARGIN : (sharedDb - ONE_SIDED_DB) / RATIO_SPREAD_DB,
    );
    return decide('one-sided', margin, { side, spoke: [emptySays(side)] });
  }
  if (alone >= 0) {
    const side = ratioDb > 0 ? 'left' : 'right';
    const margin = OVER_MARGIN + alone / RATIO_SPREAD_DB;
    return decide('one-sided', mayHoldAWord(input, side) ? Math.min(margin, DOUBTFUL_MARGIN) : margin, {
      side,
      spoke: [aloneSays(side, Math.abs(ratioDb))],
    });
  }
  const isAlone = segment.state === 'left-only' || segment.state === 'right-only';
  // The side of a middle may be that much softer; what it turns over it hears, however soft.
  const middle = segment.match && isAlone ? middleOf(segment.match, input.sampleRate) : null;
  if (middle?.isSure) return decide('stereo', DOUBTFUL_MARGIN, { middle: middle.side, spoke: [middle.says] });
  if (!segment.match || isAlone) {
    const side = segment.state === 'left-only' ? 'left' : segment.state === 'right-only' ? 'right' : null;
    if (side && soundsBriefly(input, side)) return decide('one-sided', DOUBTFUL_MARGIN, { side });
    return decide(verdictOfState(segment.state), UNDECIDED_MARGIN);
  }
  const speaking = activity.filter(({ soundsLikeSpeech }) => soundsLikeSpeech).length;
  const pauses = speaking > 0 ? pausesOf(input.channels, segment.match.noise) : null;
  return decideBySecondLook(segment.match, input.sampleRate, pauses, -alone / RATIO_SPREAD_DB, decide);
}

function decideBySecondLook(
  match: PairMatch,
  sampleRate: number,
  pauses: Pauses | null,
  bothMargin: number,
  decide: (verdict: PairVerdict, margin: number, rest?: Partial<SegmentVerdict>) => SegmentVerdict,
): SegmentVerdict {
  const { plainNullDb, matchedNullDb } = match;
  const same = sameSays(match);
  const disguised = disguisedSays(match);
  // However much of them is one, what is heard for a moment at one side only would be lost with it.
  const hasItsOwn = match.unlike > OF_ITS_OWN;
  const isOne = plainNullDb <= ONE_SIGNAL_NULL_DB || isOneButForTreble(match);
  if (isOne && hasItsOwn)
    return decide('two-mics', Math.min(DOUBTFUL_MARGIN, bothMargin), { spoke: [ofItsOwnSays(match), same] });
  if (plainNullDb <= ONE_SIGNAL_NULL_DB) {
    const programme = match.differenceCoherence > PROGRAMME_COHERENCE && match.lowPlainNullDb > CODED_LOW_NULL_DB;
    const margin = OVER_MARGIN + (ONE_SIGNAL_NULL_DB - plainNullDb) / NULL_SPREAD_DB;
    return decide('dual-mono', programme ? DOUBTFUL_MARGIN : margin, { spoke: [same] });
  }
  if (isOne)
    return decide('dual-mono', plainNullDb <= SURELY_CODED_NULL_DB ? CODED_MARGIN : DOUBTFUL_MARGIN, { spoke: [same] });
  const delayMs = Math.abs((1000 * match.delaySamples) / sampleRate);
  // Both sides of a copy hear their pauses alike, whatever a coder left of it.
  const distant = delayMs > DISTANT_MS && (pauses === null || nearAndFarScore(delayMs, pauses) > DISTANT_SCORE);
  const gained = plainNullDb - matchedNullDb - DISGUISED_GAIN_DB;
  const deep = (distant ? DISTANT_NULL_DB : DISGUISED_NULL_DB) - matchedNullDb;
  const likeness = Math.min(deep, gained) / NULL_SPREAD_DB;
  if (likeness >= 0 && hasItsOwn)
    return decide('two-mics', Math.min(DOUBTFUL_MARGIN, bothMargin), { spoke: [ofItsOwnSays(match), disguised] });
  if (likeness >= 0) {
    if (pauses !== null && isRoomBetween(match, delayMs))
      return decide('two-mics', Math.min(DOUBTFUL_MARGIN, bothMargin), { spoke: [roomBetweenSays(match), disguised] });
    const disguise = disguiseOf(match);
    const spoke = [disguised, same];
    if (disguise.length === 0) return decide('dual-mono', likeness, { spoke });
    const isSlight =
      disguise.length === 1 && plainNullDb <= SLIGHT_FILTER_NULL_DB && matchedNullDb > SURELY_FILTERED_NULL_DB;
    const mix = disguise.includes('filter') && (isSlight || (pauses === null && matchedNullDb > MIX_NULL_DB));
    // People who stand apart in a mix move the gain as well, but nothing follows how loud they are.
    const people = match.gainMovesDb > 0 && match.limited === null;
    return decide('fake-stereo', mix || people ? Math.min(likeness, DOUBTFUL_MARGIN) : likeness, { disguise, spoke });
  }
  // A copy that sets the sides apart, or a gain that moves, comes clearly through a coder that leaves no deep null of anything.
  if (match.echoSeconds > 0 || match.sway || match.gainMovesDb > 0)
    return decide('fake-stereo', Math.min(DOUBTFUL_MARGIN, bothMargin), {
      disguise: disguiseOf(match),
      spoke: [disguised, same],
    });
  const isCoded = isCodedCopy(match, delayMs);
  if (isCoded && hasItsOwn)
    return decide('two-mics', Math.min(DOUBTFUL_MARGIN, bothMargin), { spoke: [ofItsOwnSays(match), disguised] });
  if (match.jump || isCoded)
    return decide('fake-stereo', Math.min(DOUBTFUL_MARGIN, bothMargin), {
      disguise: disguiseOf(match),
      spoke: [codedCopySays(match, delayMs), disguised, same],
    });
  if (isCodedBand(match))
    return decide('fake-stereo', Math.min(DOUBTFUL_MARGIN, bothMargin), {
      disguise: ['filter'],
      spoke: [codedBandSays(match), disguised, same],
    });
  const middle = middleOf(match, sampleRate);
  if (middle !== null)
    return decide('stereo', Math.min(-likeness, bothMargin, middle.isSure ? CERTAIN_MARGIN : DOUBTFUL_MARGIN), {
      middle: middle.side,
      spoke: [middle.says],
    });
  // A voice, and nothing that both sides hear: no stereo pair can do that.
  const unrelated = leastUnrelated(match);
  if (pauses !== null && match.arrival.prominence < ARRIVAL_BY_CHANCE && match.incoherent > unrelated)
    return decide('two-mics', Math.min(bothMargin, OVER_MARGIN + (match.incoherent - unrelated) / INCOHERENT_SPREAD), {
      spoke: [unrelatedSays(match, unrelated)],
    });
  const spoke = twoMicrophonesSpeak(match, sampleRate, pauses);
  const [{ strength: score }] = spoke;
  const apart = Math.min(-likeness, bothMargin, (plainNullDb - ONE_SIGNAL_NULL_DB) / NULL_SPREAD_DB);
  const fieldMargin = Math.abs(Math.log(Math.max(score, 0.05))) / SCORE_SPREAD;
  const margin = Math.min(apart, fieldMargin);
  const rest = { spoke: [...spoke, disguised] };
  if (score >= 1) return decide('two-mics', margin, rest);
  const perhaps = perhapsMiddleOf(match);
  if (perhaps !== null)
    return decide('stereo', Math.min(margin, DOUBTFUL_MARGIN), {
      middle: perhaps,
      spoke: [softerSays(match), ...spoke, disguised],
    });
  const isTurnedOver =
    match.polarity < 0 && match.arrival.prominence >= CLEAR_ARRIVAL && plainNullDb >= TURNED_OVER_NULL_DB;
  if (isTurnedOver)
    return decide('stereo', Math.min(margin, DOUBTFUL_MARGIN), { spoke: [turnedOverSays(match), ...rest.spoke] });
  const isUntold = pauses !== null && hearsOnePlace(match, sampleRate);
  return decide('stereo', isUntold ? Math.min(margin, ONE_PLACE_MARGIN) : margin, rest);
}

/** What was done to make one signal look like two. */
function disguiseOf(match: PairMatch): Disguise[] {
  const disguise: Disguise[] = [];
  if (match.sway) return match.sway.kind === 'alone' ? ['delay'] : ['filter'];
  const filtered = match.alignedNullDb > FILTER_NULL_DB && match.alignedNullDb - match.matchedNullDb > FILTER_GAIN_DB;
  if (match.gainMovesDb > 0) disguise.push('level');
  else if (Math.abs(match.gainDb) > LEVEL_DB && !(filtered && Math.abs(match.gainDb) < 3)) disguise.push('level');
  if (match.polarity < 0 && !(filtered && Math.abs(match.arrival.height) < 0.7)) disguise.push('polarity');
  const moves = match.driftPpm !== 0 || match.jump !== null;
  if (moves || Math.abs(match.delaySamples) > (filtered ? 24 * DELAY_SAMPLES : DELAY_SAMPLES)) disguise.push('delay');
  if (filtered || match.echoSeconds > 0) disguise.push('filter');
  return disguise;
}

/** Whether the sides null once what their pauses hold is taken off, and not before, and that comes and goes as no noise does: it may be what a mix has on its sides. */
function mayHideAMix({ segment: { match }, channels, differencePower }: SegmentInput): boolean {
  if (match === null || match.plainNullDb > ONE_SIGNAL_NULL_DB) return false;
  const difference = totalOf(differencePower);
  const both = totalOf(channels[0].blockSpeechPower) + totalOf(channels[1].blockSpeechPower);
  if (dbFromPower(difference / Math.max(2 * both - difference, Number.MIN_VALUE)) <= ONE_SIGNAL_NULL_DB) return false;
  const sounding = valuesAbove(differencePower, NOTHING_POWER);
  return dbFromPower(percentile(sounding, 0.9) / percentile(sounding, 0.1)) > NO_NOISE_MOVES_DB;
}

/** Steady sound on one side and nearly as much on the other is one place heard twice, wherever the line to noise falls between them. */
function bothSteady({ channels, activity }: SegmentInput): boolean {
  if (activity.some(({ moves, isMade }) => moves || isMade)) return false;
  const [left, right] = channels.map(({ blockSpeechPower }) => mean(blockSpeechPower));
  return Math.abs(dbFromPower((left + 1e-14) / (right + 1e-14))) < STEADY_APART_DB;
}

// Over the pauses of speech, under what sounds now and then.
const MOSTLY_SHARE = 0.75;

/**
 * How far under the louder side lies what both have of one sound, in dB; null where they share none. A side that is as steady as noise is none where it
 * holds the other's sound: no preamplifier's hiss does.
 */
function sharedRatioDb({ segment: { match }, channels, activity }: SegmentInput): number | null {
  if (!match || activity.some(({ isMade }) => isMade)) return null;
  const { prominence, height } = match.arrival;
  const comesAlike = prominence >= SURELY_SHARED_PROMINENCE && Math.abs(height) >= SURELY_SHARED_HEIGHT;
  // Instruments that are panned come to the side upright and upside down, and show no one arrival.
  const incoherent = incoherentShare(match.spectrum, SHARED_HZ.from, SHARED_HZ.below);
  if (!comesAlike && incoherent >= SHARED_INCOHERENT) return null;
  const powers = channels.map(({ blockSpeechPower }) => blockSpeechPower);
  // Knocks on the softer side say nothing of what it holds all the time, nor do drums of what the louder one does.
  const mostly = powers.map((values) => percentile(values, MOSTLY_SHARE));
  const soft = mostly[0] < mostly[1] ? 0 : 1;
  return dbFromPower((mostly[1 - soft] + 1e-14) / (mostly[soft] + 1e-14)) - dbFromPower(Math.max(1 - incoherent, 1e-6));
}

/** Of the side that is to be filled. */
function mayHoldAWord({ channels, activity }: SegmentInput, live: Side): boolean {
  const [lives, other] = live === 'left' ? [0, 1] : [1, 0];
  return !activity[other].isMade && isHeardOnce(channels[other].blockSpeechPower, channels[lives].blockSpeechPower);
}

/** Whether one side is alone but for moments in which the other sounds as well. */
function soundsBriefly(input: SegmentInput, side: Side): boolean {
  const [live, dead] = side === 'left' ? [0, 1] : [1, 0];
  const powers = input.channels[dead].blockSpeechPower;
  const moments = Math.min(BRIEF_SHARE, BRIEF_SECONDS / (powers.length * input.blockSeconds));
  const loudest = Math.max(NOTHING_POWER, percentile(powers, 1 - moments));
  // What comes just before and after a moment belongs to it.
  const beside = marksApart(Uint8Array.from(powers, (power) => (power >= loudest ? 1 : 0)));
  const counts = input.activity[live].active.map((active, i) => active & beside[i]);
  const ratioDb = programmeRatioDb(input, counts);
  return (side === 'left' ? ratioDb : -ratioDb) >= ONE_SIDED_DB;
}

function verdictOfState(state: MatchedSegment['state']): PairVerdict {
  if (state === 'same') return 'dual-mono';
  return state === 'scaled' || state === 'inverted' ? 'fake-stereo' : 'stereo';
}

/**
 * Left programme over right programme in dB, where either side stands out of its floor. The mean power of each side's
 * pauses is taken off, so that noise under the programme does not count as programme.
 */
function programmeRatioDb({ channels, activity }: SegmentInput, counts: Uint8Array): number {
  const above = channels.map(({ blockSpeechPower }, s) => {
    const powers = markedOf(blockSpeechPower, counts);
    const noise = activity[s].pausePower;
    // Noise is known to a few hundredths of itself.
    return Math.max(mean(powers) - noise, 0.02 * noise, 1e-14);
  });
  return dbFromPower(above[0] / above[1]);
}
