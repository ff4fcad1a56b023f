import type { PairReport, Suggestion } from '../../schema/inspection.ts';
import { TURNED_OVER_NULL_DB } from '../boundaries.ts';
import { isDoubtful } from '../confidence.ts';
import { suggest, type Cause, type Sentences } from './entry.ts';

// What plays in stereo is mostly as it should be; it may also be middle and side, or have a side upside down.

export const AS_IT_SHOULD_BE = 'Stereo, as it should be.';

interface Kind {
  isSo: (pair: PairReport) => boolean;
  describe: (pair: PairReport) => Sentences;
  cause: Cause;
  suggestion: Suggestion;
}

const DECODING = 'left is middle plus side, right is middle less side.';
const NOTHING_TO_DO = suggest('none', 'Nothing needs doing.');
const NO_CAUSE: Cause = { cause: null, advice: null };

/** In this order: the first that is so. */
const KINDS: Kind[] = [
  {
    isSo: (pair) => pair.middle !== null && isDoubtful(pair),
    describe: ({ middle }) => ({
      headline: 'Perhaps middle and side, not left and right.',
      detail: `The ${middle} side is the louder one, and the other does not hear what the second of a pair would. Neither a pair nor middle and side is sure.`,
    }),
    cause: {
      cause:
        'A middle-and-side microphone recorded as it is, whose side hears the room; or a pair of which one input was set lower.',
      advice: 'Look at what was plugged in, and note it on the clip.',
    },
    suggestion: suggest('review', `If it is middle and side, decode it first: ${DECODING}`),
  },
  {
    isSo: ({ middle }) => middle !== null,
    describe: ({ middle }) => ({
      headline: 'Middle and side, not left and right.',
      detail: `The ${middle} side hears what is ahead, the other what is to either hand, one half of it upside down.`,
    }),
    cause: {
      cause: 'A middle-and-side microphone recorded as it is, or a mix kept as sum and difference.',
      advice: 'Let the recorder decode it, or note it on the clip.',
    },
    suggestion: suggest('review', `Decode it first: ${DECODING}`),
  },
  {
    isSo: isTurnedOver,
    describe: () => ({
      headline: 'Stereo, but one side may be upside down.',
      detail: 'Most of what both sides hear is turned over on one of them: turn it over and listen.',
    }),
    cause: {
      cause: 'A cable that turns one side over, or a mix kept as sum and difference.',
      advice: 'Look at the cables and adapters, and note it on the clip.',
    },
    suggestion: suggest('review', 'Turn one side over and listen: what stood nowhere should stand in its place.'),
  },
  {
    isSo: isDoubtful,
    describe: () => ({
      headline: 'Probably stereo: listen before you decide.',
      detail: 'Both sides carry sound of their own, but they are close to something else.',
    }),
    cause: NO_CAUSE,
    suggestion: NOTHING_TO_DO,
  },
  {
    isSo: () => true,
    describe: () => ({ headline: AS_IT_SHOULD_BE, detail: 'Both sides carry sound of their own from one place.' }),
    cause: NO_CAUSE,
    suggestion: NOTHING_TO_DO,
  },
];

const kindOf = (pair: PairReport): Kind => KINDS.find(({ isSo }) => isSo(pair))!;

export const describeStereo = (pair: PairReport): Sentences => kindOf(pair).describe(pair);
export const causeOfStereo = (pair: PairReport): Cause => kindOf(pair).cause;
export const suggestForStereo = (pair: PairReport): Suggestion => kindOf(pair).suggestion;

/** Whether most of what the sides of a stereo clip share is upside down on one of them. */
export function isTurnedOver({ verdict, middle, commonArrival, polarity, nullDepthDb }: PairReport): boolean {
  const isUpsideDown = commonArrival && polarity === 'inverted' && (nullDepthDb ?? -Infinity) >= TURNED_OVER_NULL_DB;
  return verdict === 'stereo' && middle === null && isUpsideDown;
}
