import type { FindingCode, PairVerdict, Side } from '@pocket-twin/core/schema/verdict.ts';
import type { Mono } from '@pocket-twin/core/synth/mono.ts';
import type { Chance } from '@pocket-twin/core/synth/chance.ts';

/** A generated clip and what is true about it. */
export interface Case {
  what: string;
  verdict: PairVerdict;
  side?: Side;
  sides: [Mono, Mono];
  /** In Hz, where it is not the usual one. */
  rate?: number;
  /** All of the file, where the sides are two among many; which pair they are, and of which channels (from 0) one must be kept. */
  channels?: Mono[];
  pair?: number;
  kept?: number[][];
  /** Known where one signal was disguised. */
  disguise?: { gainDb: number; delaySamples: number; polarity: 1 | -1; filtered: boolean };
  /** Where the verdict changes, in seconds. */
  boundariesSeconds?: number[];
  /** What must be found beside the verdict. */
  finding?: FindingCode;
  /** Each side carries something of its own, whatever the verdict. */
  ownOnBoth?: boolean;
  /** Either side is the whole recording, however it changes. */
  copiesThroughout?: boolean;
  /** The channel that holds everything all the way through a changing clip. */
  wholeChannel?: number;
}

/** Makes one of a kind. */
export type Maker = (chance: Chance, frames: number) => Case;
