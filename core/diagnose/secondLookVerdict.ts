import {
  CLEAR_ARRIVAL,
  CODED_LOW_NULL_DB,
  DISGUISED_GAIN_DB,
  DISGUISED_NULL_DB,
  ONE_SIGNAL_NULL_DB,
} from '../measure/boundaries.ts';
import type { PairMatch } from '../measure/pair/pairMatch.ts';
import type { Disguise } from '../schema/inspection.ts';
import {
  ARRIVAL_BY_CHANCE,
  CERTAIN_MARGIN,
  CODED_MARGIN,
  DELAY_SAMPLES,
  DISTANT_MS,
  DISTANT_NULL_DB,
  DISTANT_SCORE,
  DOUBTFUL_MARGIN,
  EVEN_SCORE,
  FILTER_GAIN_DB,
  FILTER_NULL_DB,
  INCOHERENT_SPREAD,
  LEVEL_DB,
  MIX_NULL_DB,
  NULL_SPREAD_DB,
  OF_ITS_OWN,
  ONE_PLACE_MARGIN,
  OVER_MARGIN,
  PROGRAMME_COHERENCE,
  SCORE_SPREAD,
  SLIGHT_FILTER_NULL_DB,
  SURELY_CODED_NULL_DB,
  SURELY_FILTERED_NULL_DB,
  TURNED_OVER_NULL_DB,
} from './boundaries.ts';
import { middleOf, perhapsMiddleOf, softerSays } from './middleAndSide.ts';
import { isCodedBand, isCodedCopy, isOneButForTreble, isRoomBetween } from './nearlyOne.ts';
import type { Decide, SegmentVerdict } from './segment.ts';
import {
  codedBandSays,
  codedCopySays,
  disguisedSays,
  ofItsOwnSays,
  roomBetweenSays,
  sameSays,
  turnedOverSays,
  unrelatedSays,
} from './spoken.ts';
import { hearsOnePlace, leastUnrelated, nearAndFarScore, twoMicrophonesSpeak, type Pauses } from './twoMicrophones.ts';

export interface SecondLook {
  match: PairMatch;
  sampleRate: number;
  /** Null where no voice is heard that could pause. */
  pauses: Pauses | null;
  /** How surely both sides hold programme, in spreads. */
  bothMargin: number;
  decide: Decide;
}

/** The verdict on two sides that both hold programme; `bothMargin` says how surely they do. */
export function decideBySecondLook(look: SecondLook): SegmentVerdict {
  return decideOneSignal(look) ?? decideApart(look);
}

/** How near the sides come to a disguise undone, in spreads of a null's depth: not nearer than they null deep, nor than that gains. */
function likenessOf({ match, sampleRate, pauses }: SecondLook): number {
  const delayMs = delayMsOf(match, sampleRate);
  // Both sides of a copy hear their pauses alike, whatever a coder left of it.
  const distant = delayMs > DISTANT_MS && (pauses === null || nearAndFarScore(delayMs, pauses) > DISTANT_SCORE);
  const gained = match.plainNullDb - match.matchedNullDb - DISGUISED_GAIN_DB;
  const deep = (distant ? DISTANT_NULL_DB : DISGUISED_NULL_DB) - match.matchedNullDb;
  return Math.min(deep, gained) / NULL_SPREAD_DB;
}

const delayMsOf = (match: PairMatch, sampleRate: number): number => Math.abs((1000 * match.delaySamples) / sampleRate);

/** One signal on both sides, as it is or in disguise; null where they are none. */
function decideOneSignal(look: SecondLook): SegmentVerdict | null {
  const { match, sampleRate, pauses, bothMargin, decide } = look;
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
  const delayMs = delayMsOf(match, sampleRate);
  const likeness = likenessOf(look);
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
  return null;
}

/** Two sides that are not one signal: a stereo recording, or two microphones. */
function decideApart(look: SecondLook): SegmentVerdict {
  const { match, sampleRate, pauses, bothMargin, decide } = look;
  const likeness = likenessOf(look);
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
  const apart = Math.min(-likeness, bothMargin, (match.plainNullDb - ONE_SIGNAL_NULL_DB) / NULL_SPREAD_DB);
  const isTwo = score >= 1;
  const beyondEven = Math.log(Math.max(score, 0.05) / EVEN_SCORE);
  const fieldMargin = Math.max(0, isTwo ? beyondEven : -beyondEven) / SCORE_SPREAD;
  const margin = Math.min(apart, fieldMargin);
  const rest = { spoke: [...spoke, disguisedSays(match)] };
  if (isTwo) return decide('two-mics', margin, rest);
  const perhaps = perhapsMiddleOf(match);
  if (perhaps !== null)
    return decide('stereo', Math.min(margin, DOUBTFUL_MARGIN), {
      middle: perhaps,
      spoke: [softerSays(match), ...rest.spoke],
    });
  const isTurnedOver =
    match.polarity < 0 && match.arrival.prominence >= CLEAR_ARRIVAL && match.plainNullDb >= TURNED_OVER_NULL_DB;
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
