/**
 * Numbers about a clip, no opinion. Amplitudes and powers are linear with full scale at 1;
 * series have one value for each whole or partial block of `blockSeconds`.
 */
export interface Measurement {
  sampleRate: number;
  frames: number;
  blockSeconds: number;
  channels: ChannelMeasurement[];
  /** Neighbours: channels 1 and 2, 3 and 4, ... */
  pairs: PairMeasurement[];
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
  loudnessLufs: number;
  /** Mean square of each block. */
  blockPower: Float64Array;
  /** Mean square of each block between 150 Hz and 6 kHz, where speech and most music have their energy. */
  blockSpeechPower: Float64Array;
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
}

/** Length of a block: the step of the 400 ms gating blocks with 75 % overlap in BS.1770-5. */
export const BLOCK_SECONDS = 0.1;
