import type { SecondsSpan } from '../time/spans.ts';
import type { EditEvent } from './edit.ts';

/** Where a recording's own clock begins; null where it has none. */
export interface RecordingClock {
  startSeconds: number | null;
  durationSeconds: number;
}

// A timecode is good to a frame.
const NEAR_SECONDS = 0.1;

/** Where the edit's times of a recording count from: what the edit says, else its timecode where the times fit it, else its first sample. */
export function originOf(
  { startSeconds, mediaStartSeconds }: Pick<EditEvent, 'startSeconds' | 'mediaStartSeconds'>,
  clock: RecordingClock,
): number {
  if (mediaStartSeconds !== null) return mediaStartSeconds;
  const { startSeconds: own } = clock;
  return own !== null && startSeconds !== null && startSeconds >= own - NEAR_SECONDS ? own : 0;
}

/**
 * The stretches of a recording that events use, with their handles, from its first sample; those that touch are one.
 * @returns the whole recording where an event does not say what it uses
 */
export function usedStretches(
  events: readonly EditEvent[],
  clock: RecordingClock,
  handlesSeconds: number,
): SecondsSpan[] {
  const { durationSeconds } = clock;
  const whole = { startSeconds: 0, endSeconds: durationSeconds };
  const wanted = events.map((event): SecondsSpan => {
    if (event.startSeconds === null || event.endSeconds === null) return whole;
    const origin = originOf(event, clock);
    return {
      startSeconds: Math.max(0, event.startSeconds - origin - handlesSeconds),
      endSeconds: Math.min(durationSeconds, event.endSeconds - origin + handlesSeconds),
    };
  });
  const stretches: SecondsSpan[] = [];
  for (const span of wanted.sort((a, b) => a.startSeconds - b.startSeconds)) {
    // What lies beyond the recording is not there to be cut.
    if (span.endSeconds <= span.startSeconds) continue;
    const last = stretches.at(-1);
    if (last && span.startSeconds <= last.endSeconds) last.endSeconds = Math.max(last.endSeconds, span.endSeconds);
    else stretches.push({ ...span });
  }
  return stretches.length > 0 ? stretches : [whole];
}
