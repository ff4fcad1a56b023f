/** What two sides do in one block. */
export type BlockState = 'left-only' | 'right-only' | 'same' | 'scaled' | 'inverted' | 'different';

/** What two sides do at no lag: which of them sounds, whether they are copies of each other, whether each is alone by turns. */
export type PairState = BlockState | 'in-turn';

/** A stretch of blocks, from and up to, in which a pair stays in one state. */
export interface PairSegment {
  from: number;
  to: number;
  state: PairState;
  /** The first and the last block with which it may begin: in a pause block sums can't tell. */
  begins: [number, number];
}
