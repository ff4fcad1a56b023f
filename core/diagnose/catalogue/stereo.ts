import type { PairReport, Suggestion } from '../../schema/inspection.ts';
import { TURNED_OVER_NULL_DB } from '../boundaries.ts';
import { isDoubtful } from '../confidence.ts';
import { suggest, type Cause, type Sentences } from './entry.ts';

// What plays in stereo is mostly as it should be; it may also be middle and side, or have a side upside down.

export const AS_IT_SHOULD_BE = 'Stereo, as it should be.';

export function describeStereo(pair: PairReport): Sentences {
  if (pair.middle !== null && isDoubtful(pair))
    return {
      headline: 'Perhaps middle and side, not left and right.',
      detail: `The ${pair.middle} side is the louder one, and the other does not hear what the second of a pair would. Neither a pair nor middle and side is sure.`,
    };
  if (pair.middle !== null)
    return {
      headline: 'Middle and side, not left and right.',
      detail: `The ${pair.middle} side hears what is ahead, the other what is to either hand, one half of it upside down.`,
    };
  if (isTurnedOver(pair))
    return {
      headline: 'Stereo, but one side may be upside down.',
      detail: 'Most of what both sides hear is turned over on one of them: turn it over and listen.',
    };
  if (isDoubtful(pair))
    return {
      headline: 'Probably stereo: listen before you decide.',
      detail: 'Both sides carry sound of their own, but they are close to something else.',
    };
  return { headline: AS_IT_SHOULD_BE, detail: 'Both sides carry sound of their own from one place.' };
}

export function causeOfStereo(pair: PairReport): Cause {
  if (pair.middle !== null && isDoubtful(pair))
    return {
      cause:
        'A middle-and-side microphone recorded as it is, whose side hears the room; or a pair of which one input was set lower.',
      advice: 'Look at what was plugged in, and note it on the clip.',
    };
  if (pair.middle !== null)
    return {
      cause: 'A middle-and-side microphone recorded as it is, or a mix kept as sum and difference.',
      advice: 'Let the recorder decode it, or note it on the clip.',
    };
  if (isTurnedOver(pair))
    return {
      cause: 'A cable that turns one side over, or a mix kept as sum and difference.',
      advice: 'Look at the cables and adapters, and note it on the clip.',
    };
  return { cause: null, advice: null };
}

export function suggestForStereo(pair: PairReport): Suggestion {
  if (pair.middle !== null)
    return suggest(
      'review',
      `${isDoubtful(pair) ? 'If it is middle and side, decode' : 'Decode'} it first: left is middle plus side, right is middle less side.`,
    );
  if (isTurnedOver(pair))
    return suggest('review', 'Turn one side over and listen: what stood nowhere should stand in its place.');
  return suggest('none', 'Nothing needs doing.');
}

/** Whether most of what the sides of a stereo clip share is upside down on one of them. */
export function isTurnedOver({ verdict, middle, commonArrival, polarity, nullDepthDb }: PairReport): boolean {
  const isUpsideDown = commonArrival && polarity === 'inverted' && (nullDepthDb ?? -Infinity) >= TURNED_OVER_NULL_DB;
  return verdict === 'stereo' && middle === null && isUpsideDown;
}
