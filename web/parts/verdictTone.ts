import type { ClipVerdict } from '@pocket-twin/core/schema/verdict.ts';

export type Tone = 'fix' | 'look' | 'fine';

/** How pressing a verdict is by itself. */
export function verdictTone(verdict: ClipVerdict): Tone {
  if (verdict === 'one-sided' || verdict === 'fake-stereo' || verdict === 'two-mics') return 'fix';
  return verdict === 'silent' || verdict === 'changing' ? 'look' : 'fine';
}
