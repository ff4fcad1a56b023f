import type { BlockSpan } from '../../time/spans.ts';

/** What two sides do in one block. */
export type BlockState = 'left-only' | 'right-only' | 'same' | 'scaled' | 'inverted' | 'different';

/** What two sides do at no lag: which of them sounds, whether they are copies of each other, whether each is alone by turns. */
export type PairState = BlockState | 'in-turn';

/** Where a pair stays in one state. */
export interface PairSegment extends BlockSpan {
  state: PairState;
  /** The first and the last block with which it may begin: in a pause block sums can't tell. */
  begins: [number, number];
}
