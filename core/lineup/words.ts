import { VERDICTS } from '../diagnose/catalogue/verdicts.ts';
import type { Standing } from '../schema/lineup.ts';
import type { ClipVerdict, Side } from '../schema/verdict.ts';

/** A verdict in a word or two. */
export function verdictWords(verdict: ClipVerdict, side: Side | null = null): string {
  return side ? `${VERDICTS[verdict].label}, ${side}` : VERDICTS[verdict].label;
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
