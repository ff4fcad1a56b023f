import type { ChannelMeasurement, MatchedSegment } from '../measure/measurement.ts';
import type { Disguise, Spoken } from '../schema/inspection.ts';
import type { PairVerdict, Side } from '../schema/verdict.ts';
import type { ChannelActivity } from './channelActivity.ts';

// What the verdict on one segment of a pair is made of, and what it says.

export interface SegmentVerdict {
  verdict: PairVerdict;
  side: Side | null;
  disguise: Disguise[];
  /** Of middle and side, the side that holds the middle. */
  middle: Side | null;
  /** The strongest first. */
  spoke: Spoken[];
  /** How far it is from the nearest other verdict, in spreads of what decided. */
  margin: number;
  /** How long there is something to tell it by. */
  activeSeconds: number;
  confidence: number;
}

export interface SegmentInput {
  segment: MatchedSegment;
  /** As they are within the segment. */
  channels: [ChannelMeasurement, ChannelMeasurement];
  activity: [ChannelActivity, ChannelActivity];
  /** Mean square of left less right of each block of the segment, in the band of speech. */
  differencePower: Float64Array;
  sampleRate: number;
  blockSeconds: number;
}

/** Makes the verdict; `margin` in spreads of what decided. */
export type Decide = (verdict: PairVerdict, margin: number, rest?: Partial<SegmentVerdict>) => SegmentVerdict;
