import type { ConformLine } from '../schema/handoff.ts';
import { reasonFor, type WhatWasAsked } from './conformReasons.ts';

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

type Travelling = Readonly<Record<string, string | number>>;

/**
 * Old against new; what neither has is no line. @param travels what else each file holds, by its name
 * @param asked what was done, which explains what differs
 */
export function conformLines(
  before: ConformFacts,
  after: ConformFacts,
  travels: { before: Travelling; after: Travelling } = { before: {}, after: {} },
  asked: WhatWasAsked | null = null,
): ConformLine[] {
  const main = (Object.keys(NAMES) as (keyof ConformFacts)[])
    .filter((key) => before[key] !== null || after[key] !== null)
    .map((key) => ({ what: NAMES[key], old: before[key], new: after[key], equal: before[key] === after[key] }));
  const names = [...new Set([...Object.keys(travels.before), ...Object.keys(travels.after)])];
  const more = names.map((what) => {
    const old = travels.before[what] ?? null;
    const now = travels.after[what] ?? null;
    return { what, old, new: now, equal: old === now };
  });
  return [...main, ...more].map((line: ConformLine) => {
    const why = line.equal || !asked ? undefined : reasonFor(line, asked);
    return why ? { ...line, why } : line;
  });
}
