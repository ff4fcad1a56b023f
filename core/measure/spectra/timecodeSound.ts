import { crossingsOf, sumOfSquares } from '../../kernels/stretchSums.ts';
import { powerFromDb } from '../../signal/decibels.ts';
import { DAY_SECONDS, secondsFromTimecode } from '../../time/timecode.ts';
import { FRAME_RATES, type FrameRate } from '../../time/frameRates.ts';
import { percentile } from '../stream/noiseFloor.ts';

/** A frame of timecode that was read from sound. */
export interface TimecodeFrame {
  /** hh:mm:ss:ff, with a semicolon where numbers are dropped. */
  label: string;
  rate: FrameRate;
  /** Where the frame begins, in samples of what was read. */
  startSample: number;
}

// It is a square wave of one level: parts of it differ by some tenths of a decibel, under noise by a little more.
const PART_SECONDS = 0.05;
const EVEN = powerFromDb(6);
const BITS = 80;
// The last sixteen bits of every frame, in the order in which they come (SMPTE ST 12-1, linear time code).
const SYNC = [0, 0, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 0, 1];
// Frames a second that a deck may run at while it is read: the slowest film rate and the fastest video rate, each with a little to spare.
const RATES = { least: 22, most: 32 };
// A crossing counts when the wave has gone this far to the other side, as a share of its usual size.
const HYSTERESIS = 0.3;
const MOSTLY = 0.5;
// Noise puts in some crossings of its own.
const NOISY = 1.5;
// A half bit is shorter than this share of a whole one.
const HALF = 0.75;
// What a frame lasts may differ by this share from the nominal.
const RATE_TOLERANCE = 0.0004;

/** Bits a BCD digit has, and where each begins (SMPTE ST 12-1). */
const DIGITS = {
  frames: [0, 4],
  frameTens: [8, 2],
  seconds: [16, 4],
  secondTens: [24, 3],
  minutes: [32, 4],
  minuteTens: [40, 3],
  hours: [48, 4],
  hourTens: [56, 2],
} as const;
const DROP_FRAME_BIT = 10;

/**
 * Reads linear timecode (SMPTE ST 12-1: biphase mark, 80 bits a frame) from a stretch of sound; of either polarity, at any level.
 * @returns the first whole frame; null where there is none
 */
export function readTimecodeSound(sound: Float64Array, sampleRate: number): TimecodeFrame | null {
  if (!isEven(sound, Math.round(PART_SECONDS * sampleRate))) return null;
  // Each bit begins with one and may have another, and most of a stretch is timecode where any of it is. Hiss has many more.
  const seconds = sound.length / sampleRate;
  const crossings = crossingsOf(sound, HYSTERESIS, Math.floor(NOISY * seconds * RATES.most * 2 * BITS));
  if (crossings === null || crossings.length < MOSTLY * seconds * RATES.least * BITS) return null;
  const lengths = crossings.subarray(1).map((at, i) => at - crossings[i]);
  if (lengths.length < BITS) return null;
  const bit = percentile(lengths, 0.9);
  if (bit < sampleRate / (RATES.most * BITS) || bit > sampleRate / (RATES.least * BITS)) return null;
  const bits: Bit[] = [];
  for (let i = 0; i < lengths.length; i++) {
    const isHalf = lengths[i] < HALF * bit;
    if (!isHalf) bits.push({ value: 0, at: crossings[i] });
    else if (i + 1 < lengths.length && lengths[i + 1] < HALF * bit) {
      bits.push({ value: 1, at: crossings[i] });
      i++;
    }
    // Half a bit alone: what follows is read from here, and the next sync word tells whether that was right.
  }
  for (let end = BITS; end < bits.length; end++) {
    const first = frameUpTo(bits, end, sampleRate);
    if (!first) continue;
    let last = end;
    for (let frame: TimecodeFrame = first, next = end + BITS; next < bits.length; next += BITS) {
      const following = frameUpTo(bits, next, sampleRate);
      if (!following || !follows(frame, following)) break;
      [frame, last] = [following, next];
    }
    // By chance a voice makes one frame in hours of it, but not the one that counts on from it.
    if (last === end) continue;
    // One frame alone is too short to tell 30 from 29.97 a second under noise; and its first bit may have been put together from two.
    const lastsSamples = (bits[last].at - bits[end].at) / ((last - end) / BITS);
    const frame = frameUpTo(bits, end, sampleRate, lastsSamples);
    return frame && { ...frame, startSample: bits[end].at - lastsSamples };
  }
  return null;
}

interface Bit {
  value: number;
  /** Where it begins, in samples. */
  at: number;
}

/** The frame whose bits end before one; null where they are none. @param lastsSamples how long its frames are; as long as it is where nobody knows */
function frameUpTo(
  bits: readonly Bit[],
  end: number,
  sampleRate: number,
  lastsSamples = bits[end].at - bits[end - BITS].at,
): TimecodeFrame | null {
  if (!SYNC.every((value, i) => bits[end - SYNC.length + i].value === value)) return null;
  return frameFrom(bits.slice(end - BITS, end), lastsSamples / sampleRate);
}

/** Whether a frame is the next one; after the last of a day comes the first. */
function follows(frame: TimecodeFrame, next: TimecodeFrame): boolean {
  const [at, then] = [frame, next].map(({ label }) => secondsFromTimecode(label, frame.rate));
  if (at === null || then === null) return false;
  const frames = Math.round(((then - at) * frame.rate.numerator) / frame.rate.denominator);
  return frames === 1 || at - then > DAY_SECONDS / 2;
}

/** Whether its level stays, part for part: a voice's does not. */
function isEven(sound: Float64Array, partSamples: number): boolean {
  let least = Infinity;
  let most = 0;
  for (let start = 0; start + partSamples <= sound.length; start += partSamples) {
    const energy = sumOfSquares(sound.subarray(start, start + partSamples));
    least = Math.min(least, energy);
    most = Math.max(most, energy);
  }
  return most <= EVEN * least;
}

function frameFrom(bits: readonly Bit[], frameSeconds: number): TimecodeFrame | null {
  const digit = ([first, count]: readonly [number, number]): number => {
    let value = 0;
    for (let i = 0; i < count; i++) value += bits[first + i].value << i;
    return value;
  };
  const pair = (units: number, tens: number): number => (units > 9 ? NaN : 10 * tens + units);
  const hours = pair(digit(DIGITS.hours), digit(DIGITS.hourTens));
  const minutes = pair(digit(DIGITS.minutes), digit(DIGITS.minuteTens));
  const seconds = pair(digit(DIGITS.seconds), digit(DIGITS.secondTens));
  const frames = pair(digit(DIGITS.frames), digit(DIGITS.frameTens));
  const rate = rateOf(frameSeconds, bits[DROP_FRAME_BIT].value === 1);
  const isTime = hours < 24 && minutes < 60 && seconds < 60 && rate !== null;
  if (!isTime || !(frames < Math.round(rate.numerator / rate.denominator))) return null;
  const two = (value: number): string => String(value).padStart(2, '0');
  const label = `${two(hours)}:${two(minutes)}:${two(seconds)}${rate.dropFrame ? ';' : ':'}${two(frames)}`;
  return { label, rate, startSample: bits[0].at };
}

/** The frame rate that a frame's length is nearest to. Rates above thirty are counted in pairs of frames, and look like half of them. */
function rateOf(frameSeconds: number, dropFrame: boolean): FrameRate | null {
  let best: { rate: FrameRate; off: number } | null = null;
  for (const { rate } of FRAME_RATES) {
    const off = Math.abs((frameSeconds * rate.numerator) / rate.denominator - 1);
    if (rate.dropFrame !== dropFrame || rate.numerator / rate.denominator > 31) continue;
    if (!best || off < best.off) best = { rate, off };
  }
  // Thirty and 29.97 lie a thousandth apart: what lies between is a deck that does not run true.
  return best && best.off < 100 * RATE_TOLERANCE ? best.rate : null;
}
