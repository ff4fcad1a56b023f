import type { ClipVerdict, Side } from '@pocket-twin/core/schema/verdict.ts';

const WORDS: Record<ClipVerdict, string> = {
  silent: 'Silent',
  'one-sided': 'One-sided',
  'dual-mono': 'Same on both sides',
  'fake-stereo': 'Fake stereo',
  'two-mics': 'Two microphones',
  stereo: 'Stereo',
  changing: 'Changes part-way',
  mono: 'Mono',
  multichannel: 'Several channels',
};

/** A verdict in a word or two. */
export function verdictWords(verdict: ClipVerdict, side: Side | null = null): string {
  return side ? `${WORDS[verdict]}, ${side}` : WORDS[verdict];
}

export type Tone = 'fix' | 'look' | 'fine';

/** How pressing a verdict is by itself. */
export function verdictTone(verdict: ClipVerdict): Tone {
  if (verdict === 'one-sided' || verdict === 'fake-stereo' || verdict === 'two-mics') return 'fix';
  return verdict === 'silent' || verdict === 'changing' ? 'look' : 'fine';
}
