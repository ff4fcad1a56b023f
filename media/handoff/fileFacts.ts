import type { ConformFacts } from '@pocket-twin/core/handoff/conform.ts';
import type { ClipFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import type { ClipFormat } from '@pocket-twin/core/schema/inspection.ts';
import { timecodeFromSeconds } from '@pocket-twin/core/time/timecode.ts';
import { openSource } from '../read/openSource.ts';
import type { Source } from '../read/source.ts';
import type { HandoffClip } from './handoffOrder.ts';

/** What old and new are held against each other by. */
export function soundFactsOf({ inspection, facts }: Pick<HandoffClip, 'inspection' | 'facts'>): ConformFacts {
  return soundFacts(inspection.format, facts);
}

export function soundFacts(
  { frames, sampleRate, bitDepth, codec, channels, durationSeconds }: ClipFormat,
  { startSamples, frameRate, streams }: ClipFacts,
): ConformFacts {
  // Without a timecode a recording starts at nought, and so does one that says so.
  const start = startSamples ? startSamples / sampleRate : null;
  return {
    ...{ frames, sampleRate, bitDepth, codec, channels },
    layout:
      streams.length > 1 ? `${streams.length} streams` : channels === 1 ? 'mono' : channels === 2 ? 'stereo' : null,
    timecode:
      start === null ? null : frameRate ? timecodeFromSeconds(start, frameRate) : clockOf(startSamples!, sampleRate),
    durationSeconds: Math.round(durationSeconds * 1000) / 1000,
    pictureHash: null,
    pictureFrames: null,
  };
}

/** A start where nobody knows how many frames a second has: "01:00:00 + 960 samples". */
function clockOf(samples: number, sampleRate: number): string {
  const seconds = Math.floor(samples / sampleRate);
  const [hours, minutes] = [Math.floor(seconds / 3600), Math.floor(seconds / 60) % 60];
  const clock = [hours, minutes, seconds % 60].map((part) => String(part).padStart(2, '0')).join(':');
  return `${clock} + ${samples % sampleRate} samples`;
}

/** What a written file says of itself. */
export async function headOf(path: string): Promise<Pick<Source, 'format' | 'facts'>> {
  const source = await openSource(path);
  await source.close();
  return source;
}
