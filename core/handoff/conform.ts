import type { ConformLine } from '../schema/handoff.ts';

/** What an edit must find in a file that takes another's place. */
export interface ConformFacts {
  frames: number;
  sampleRate: number;
  bitDepth: number | null;
  codec: string;
  channels: number;
  layout: string | null;
  timecode: string | null;
  durationSeconds: number;
  /** Of all packets of the picture; null where there is none. */
  pictureHash: string | null;
  pictureFrames: number | null;
}

const NAMES: Record<keyof ConformFacts, string> = {
  frames: 'frames',
  sampleRate: 'sample rate',
  bitDepth: 'bit depth',
  codec: 'codec',
  channels: 'channels',
  layout: 'channel layout',
  timecode: 'start timecode',
  durationSeconds: 'duration in seconds',
  pictureHash: 'picture packets (XXH128)',
  pictureFrames: 'picture frames',
};

/** Old against new; what neither has is no line. */
export function conformLines(before: ConformFacts, after: ConformFacts): ConformLine[] {
  return (Object.keys(NAMES) as (keyof ConformFacts)[])
    .filter((key) => before[key] !== null || after[key] !== null)
    .map((key) => ({ what: NAMES[key], old: before[key], new: after[key], equal: before[key] === after[key] }));
}
