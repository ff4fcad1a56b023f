import { bytesPerSample, type SampleFormat } from '../pcm/sampleFormat.ts';
import type { HandoffFormat } from '../schema/handoff.ts';
import type { Repair } from '../schema/repair.ts';

interface Expected {
  /** Of the recording's own file. */
  bytes: number;
  frames: number;
  hasVideo: boolean;
  /** Of the recording. */
  channels: number;
  repair: Repair | null;
  words: SampleFormat;
  format: HandoffFormat;
}

// Chunks that a recording carries beside its sound.
const HEAD_BYTES = 64 * 1024;

/** What a clip's files take at most: what is packed turns out smaller. */
export function expectedBytes({ bytes, frames, hasVideo, channels, repair, words, format }: Expected): number {
  if (repair === null && format === 'same') return bytes;
  const written = repair === null ? channels : repair.outputs.reduce((sum, { routes }) => sum + routes.length, 0);
  const sound = frames * written * bytesPerSample(words) + HEAD_BYTES * (repair?.outputs.length ?? 1);
  // The picture is copied, whatever it shares the file with.
  return hasVideo && format === 'same' ? bytes + sound : sound;
}
