import type { PairReport } from '@pocket-twin/core/schema/inspection.ts';

export type EvidenceName = 'balance' | 'null' | 'arrival' | 'spectrum' | 'scope';

/** The views that speak for a verdict: open at first; the rest are a press away. */
export function speakingViews(pair: PairReport | undefined): EvidenceName[] {
  switch (pair?.verdict) {
    case 'one-sided':
      return ['balance'];
    case 'dual-mono':
      return ['null', 'scope'];
    case 'fake-stereo':
      return pair.disguise.includes('filter')
        ? ['null', 'spectrum']
        : pair.disguise.includes('delay')
          ? ['null', 'arrival']
          : ['null', 'scope'];
    case 'two-mics':
      return ['balance', 'arrival'];
    case 'stereo':
      return ['arrival', 'scope'];
    case 'changing':
      return ['balance'];
    case 'silent':
    case undefined:
      return [];
  }
}
