import type { Standing } from '../schema/lineup.ts';
import type { ClipVerdict, Side } from '../schema/verdict.ts';

const VERDICTS: Record<ClipVerdict, string> = {
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
  return side ? `${VERDICTS[verdict]}, ${side}` : VERDICTS[verdict];
}

const STANDINGS: Record<Standing, string> = {
  open: 'Open',
  look: 'To look at',
  kept: 'Repair kept',
  written: 'Written',
  fine: 'Nothing to do',
  measuring: 'Being measured',
  unreadable: 'Not readable',
};

/** Where a clip stands, in a word or two. */
export function standingWords(standing: Standing): string {
  return STANDINGS[standing];
}
