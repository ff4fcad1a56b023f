import type { HandoffBits, HandoffFormat } from '../schema/handoff.ts';
import type { Repair } from '../schema/repair.ts';

interface Wanted {
  /** null leaves the clip as it is. */
  repair: Repair | null;
  format: HandoffFormat;
  bits: HandoffBits;
  hasVideo: boolean;
}

/** Whether a clip is handed off byte for byte: nothing is done to it and no other form is wanted. The words beside a picture stay what they are. */
export function isCopied({ repair, format, bits, hasVideo }: Wanted): boolean {
  return repair === null && format === 'same' && (bits === 'same' || hasVideo);
}
