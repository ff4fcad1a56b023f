import type { PairReport, Suggestion } from '../schema/inspection.ts';

// Below this a person decides.
const LEAST_CONFIDENCE = 0.7;

const suggestion = (action: Suggestion['action'], reason: string, from: number | null = null, to: number[] = []): Suggestion => (
  { action, from, to, reason }
);

/** What to do with a stereo clip. Never throws away programme. */
export function suggestForPair(pair: PairReport, doubt: string | null): Suggestion {
  if (doubt) return suggestion('review', doubt);
  if (pair.confidence < LEAST_CONFIDENCE) return suggestion('review', 'This is too close to call: listen and decide.');
  const [left, right] = pair.channels;
  switch (pair.verdict) {
    case 'one-sided': {
      const [live, dead] = pair.side === 'left' ? [left, right] : [right, left];
      return suggestion('fill', `The ${pair.side} side on both sides plays everywhere; the other side holds nothing to lose.`, live, [dead]);
    }
    case 'dual-mono': return suggestion('select', 'Either side is the whole recording: one channel is enough.', left, [left]);
    case 'silent': return suggestion('review', 'There is nothing to repair: check whether another take has the sound.');
    default: return suggestion('none', 'Nothing needs doing.');
  }
}

export function suggestForMono(): Suggestion {
  return suggestion('none', 'Nothing needs doing.');
}

export function suggestForMultichannel(): Suggestion {
  return suggestion('review', 'Listen to the channels and choose.');
}
