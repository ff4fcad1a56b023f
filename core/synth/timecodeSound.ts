import type { FrameRate } from '../time/frameRates.ts';
import { timecodeFromSeconds } from '../time/timecode.ts';
import { RATE, type Mono } from './mono.ts';

const BITS = 80;
const SYNC = [0, 0, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 0, 1];
// The digits of a timecode, each with its first bit (SMPTE ST 12-1): hh:mm:ss:ff, tens first.
const FIRST_BITS = [56, 48, 40, 32, 24, 16, 8, 0];
const DROP_FRAME_BIT = 10;

/** Linear timecode as sound, full scale, with the edges that a cable leaves. @param startSeconds after midnight */
export function timecodeSound(frames: number, startSeconds: number, rate: FrameRate, sampleRate = RATE): Mono {
  const out = new Float64Array(frames);
  const bitFrames = (sampleRate * rate.denominator) / rate.numerator / BITS;
  let level = 1;
  let position = 0;
  for (let frame = 0; position < frames; frame++) {
    const bits = bitsOf(startSeconds + (frame * rate.denominator) / rate.numerator, rate);
    for (const bit of bits) {
      const middle = position + bitFrames / 2;
      const end = position + bitFrames;
      level = -level;
      out.fill(level, Math.round(position), Math.min(frames, Math.round(middle)));
      if (bit === 1) level = -level;
      out.fill(level, Math.round(middle), Math.min(frames, Math.round(end)));
      position = end;
    }
  }
  return out.map((_, i) => ((out[i - 1] ?? 0) + 2 * out[i] + (out[i + 1] ?? 0)) / 4);
}

function bitsOf(seconds: number, rate: FrameRate): number[] {
  // A hair later, so that a frame's own start is in it.
  const digits = timecodeFromSeconds(seconds + 1e-4, rate).replace(/\D/g, '');
  const bits = Array<number>(BITS).fill(0);
  FIRST_BITS.forEach((first, d) => {
    for (let i = 0; i < 4; i++) if ((Number(digits[d]) >> i) & 1) bits[first + i] = 1;
  });
  if (rate.dropFrame) bits[DROP_FRAME_BIT] = 1;
  SYNC.forEach((bit, i) => (bits[BITS - SYNC.length + i] = bit));
  return bits;
}
