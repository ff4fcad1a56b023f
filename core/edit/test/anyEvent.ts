import type { EditEvent } from '../edit.ts';

/** An event that says nothing but what is given. */
export function anyEvent(more: Partial<EditEvent>): EditEvent {
  return {
    ...{ index: 0, name: null, target: null, reel: null, startSeconds: null, endSeconds: null },
    ...{ mediaStartSeconds: null, recordStartSeconds: null, recordEndSeconds: null, track: null },
    ...{ isPicture: false, isEnabled: true, speed: 1, channels: null },
    ...more,
  };
}
