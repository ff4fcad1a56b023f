import type { PairMatch } from './pair/pairMatch.ts';
import type { BlockSpan } from '../time/spans.ts';
import type { PairSegment } from './sections/pairState.ts';

/**
 * Numbers about a clip, no opinion. Amplitudes and powers are linear with full scale at 1;
 * series have one value for each whole or partial block of `blockSeconds`.
 */
export interface Measurement {
  sampleRate: number;
  frames: number;
  blockSeconds: number;
  channels: ChannelMeasurement[];
  /** Neighbours: channels 1 and 2, 3 and 4, ...; after the second look also those that the sound shows. */
  pairs: PairMeasurement[];
  /** Values in float data that were no numbers; they count as silence. */
  notFinite: number;
  /** Groups of channels (from 1) that carry the same signal. */
  duplicates: number[][];
  /** Channels that are sums of others; from the second look. */
  mixes: MixedChannel[];
}

/** A channel that is the sum of others at gains of their own: from 1. */
export interface MixedChannel {
  channel: number;
  of: number[];
}

export interface ChannelMeasurement {
  /** From 1. */
  channel: number;
  peak: number;
  truePeak: number;
  meanSquare: number;
  mean: number;
  /** Samples in runs of three or more at full scale. */
  clippedSamples: number;
  /** The longest stretch of samples that are exactly zero, to within 5 ms. */
  longestSilenceSeconds: number;
  loudnessLufs: number;
  momentaryMaxLufs: number;
  shortTermMaxLufs: number;
  loudnessRangeLu: number;
  /** Mean square of each block. */
  blockPower: Float64Array;
  /** Mean square of each block between 150 Hz and 5 kHz, where speech and most music have their energy. */
  blockSpeechPower: Float64Array;
  /** From the second look; null where there was none (a channel of silence). */
  tone: ChannelTone | null;
  /** What a machine makes and nobody says; null where it is none of that, or where nobody looked: a channel alone is what it is. */
  made: MadeSignal | null;
}

/** Sound that is no programme beside one: timecode, a line-up tone or beeps, hum, buzz or crackle, hiss that an automatic gain lifts. */
export interface MadeSignal {
  kind: 'timecode' | 'tone' | 'hum' | 'interference' | 'hiss';
  /** Of a tone. */
  hz: number | null;
  /** Of timecode: what the clip starts at. */
  timecode: string | null;
}

/** What a channel's spectrum shows. */
export interface ChannelTone {
  /** Share of the speech-band power in single tones away from the mains' harmonics, 0..1. */
  tonalShare: number;
  /** Power of the mains and its harmonics up to 400 Hz (mean square). */
  humPower: number;
  /** The mains' frequency it fits, 50 or 60 Hz. */
  mainsHz: number;
  /** What quiet moments hold in the speech band of hum, or of what lies lower than any voice (mean square). */
  speechHumPower: number;
}

export interface PairMeasurement {
  /** Channel numbers from 1. */
  channels: [number, number];
  /** Loudness of the pair played as left and right. */
  loudnessLufs: number;
  /** Sum of products of the two sides over all frames, and each side's sum of squares. */
  product: number;
  squares: [number, number];
  /** Sum of squares of left minus right: exactly 0 where the sides are equal. */
  differenceSquare: number;
  /** Mean product of each block. */
  blockProduct: Float64Array;
  /** Mean product of each block in the speech band. */
  blockSpeechProduct: Float64Array;
  /** Mean square of left minus right of each block. */
  blockDifferencePower: Float64Array;
  /** Stretches in which the pair behaves alike, in order, over the whole clip; from the second look. */
  segments: MatchedSegment[];
  /** Moments of under a second in which a side is lost; the rest of what stands here is of the time beside them. From the second look. */
  losses: ShortLoss[];
}

/** A side that drops out for a moment. */
export interface ShortLoss extends BlockSpan {
  side: 'left' | 'right';
  startSeconds: number;
  endSeconds: number;
}

export interface MatchedSegment extends PairSegment {
  /** What undoing a disguise brings; null where one side has nothing, or where there were too many segments to look at. */
  match: PairMatch | null;
}

/** Length of a block: the step of the 400 ms gating blocks with 75 % overlap in BS.1770-5. */
export const BLOCK_SECONDS = 0.1;
