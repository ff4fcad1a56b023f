import type { FrameRate } from './frameRates.ts';

/** After so long a timecode starts anew. */
export const DAY_SECONDS = 86_400;

const TIMECODE = /^(\d{1,2}):(\d{2}):(\d{2})([:;.,])(\d{2,3})$/;

/**
 * Seconds after midnight of a timecode hh:mm:ss:ff; a semicolon before the frames means drop-frame (SMPTE ST 12-1): in every minute but
 * each tenth the first two numbers (four above 30) are left out. null where it is no timecode.
 */
export function secondsFromTimecode(text: string, { numerator, denominator, dropFrame }: FrameRate): number | null {
  const match = TIMECODE.exec(text.trim());
  if (!match) return null;
  const [hours, minutes, seconds, frames] = [match[1], match[2], match[3], match[5]].map(Number);
  const nominal = Math.round(numerator / denominator);
  if (minutes > 59 || seconds > 59 || frames >= nominal) return null;
  const dropped = dropFrame || match[4] === ';' ? droppedFrames(hours * 60 + minutes, nominal) : 0;
  const count = ((hours * 60 + minutes) * 60 + seconds) * nominal + frames - dropped;
  return (count * denominator) / numerator;
}

/** The timecode hh:mm:ss:ff (hh:mm:ss;ff for drop-frame) of a time after midnight; it starts anew every 24 hours. */
export function timecodeFromSeconds(seconds: number, { numerator, denominator, dropFrame }: FrameRate): string {
  const nominal = Math.round(numerator / denominator);
  let count = Math.floor((seconds * numerator) / denominator + 1e-6);
  if (dropFrame) {
    const perDrop = nominal / 15;
    const framesInTenMinutes = 600 * nominal - 9 * perDrop;
    const framesInMinute = 60 * nominal - perDrop;
    const tens = Math.floor(count / framesInTenMinutes);
    const rest = count % framesInTenMinutes;
    count +=
      9 * perDrop * tens +
      (rest >= 60 * nominal ? perDrop * (1 + Math.floor((rest - 60 * nominal) / framesInMinute)) : 0);
  }
  const two = (value: number): string => String(value).padStart(2, '0');
  const total = Math.floor(count / nominal);
  return `${two(Math.floor(total / 3600) % 24)}:${two(Math.floor(total / 60) % 60)}:${two(total % 60)}${dropFrame ? ';' : ':'}${two(count % nominal)}`;
}

function droppedFrames(minutes: number, nominal: number): number {
  return (nominal / 15) * (minutes - Math.floor(minutes / 10));
}
