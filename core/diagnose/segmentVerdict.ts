import { marksOfEither } from '../kernels/blockSeries.ts';
import { ONE_SIDED_DB } from '../measure/boundaries.ts';
import type { MatchedSegment } from '../measure/measurement.ts';
import type { PairVerdict } from '../schema/verdict.ts';
import { CERTAIN_MARGIN, DOUBTFUL_MARGIN, OVER_MARGIN, RATIO_SPREAD_DB, UNDECIDED_MARGIN } from './boundaries.ts';
import { confidenceFrom } from './confidence.ts';
import { middleOf } from './middleAndSide.ts';
import {
  bothSteady,
  mayHideAMix,
  mayHoldAWord,
  programmeRatioDb,
  sharedRatioDb,
  soundsBriefly,
} from './programmeSides.ts';
import { decideBySecondLook } from './secondLookVerdict.ts';
import type { Decide, SegmentInput, SegmentVerdict } from './segment.ts';
import { aloneSays, emptySays } from './spoken.ts';
import { pausesOf } from './twoMicrophones.ts';

/** The verdict on one segment of a pair. */
export function decideSegment(input: SegmentInput): SegmentVerdict {
  const { segment, activity } = input;
  const inside = activity.map(({ active }) => active);
  const seconds = Math.max(...activity.map(({ activeSeconds }) => activeSeconds));
  const decide: Decide = (verdict, told, rest = {}) => {
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
    return decideBySecondLook({
      match: segment.match!,
      sampleRate: input.sampleRate,
      pauses: null,
      bothMargin,
      decide,
    });
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
  const bothMargin = -alone / RATIO_SPREAD_DB;
  return decideBySecondLook({ match: segment.match, sampleRate: input.sampleRate, pauses, bothMargin, decide });
}

function verdictOfState(state: MatchedSegment['state']): PairVerdict {
  if (state === 'same') return 'dual-mono';
  return state === 'scaled' || state === 'inverted' ? 'fake-stereo' : 'stereo';
}
