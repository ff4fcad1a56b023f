import { noPowers, sharedTransform } from '../../kernels/fourier.ts';
import { largestMagnitude, sumOfSquares, sumsOfProducts } from '../../kernels/stretchSums.ts';
import { dbFromPower, powerFromDb } from '../../signal/decibels.ts';
import { DAY_SECONDS, secondsFromTimecode, timecodeFromSeconds } from '../../time/timecode.ts';
import type { ChannelMeasurement, MadeSignal, Measurement } from '../measurement.ts';
import type { SoundReader } from '../soundReader.ts';
import { withSoundRoom, type SoundRoom } from '../soundRoom.ts';
import { percentile } from '../stream/noiseFloor.ts';
import { aboveRumble } from './aboveRumble.ts';
import { loudestOfParts, SOUNDING_WITHIN_DB, usualOfParts } from './partMoments.ts';
import { readTimecodeSound, type TimecodeFrame } from './timecodeSound.ts';

const STRETCH_SECONDS = 0.25;
// Short enough for a beep, long enough to see two lines of the mains apart.
const WINDOW_SECONDS = 0.045;
const STEPS = 4;
const LEAST_SOUNDING = 2;
/** What machines make is as loud each time; voices and instruments differ by far more from moment to moment. */
const EVENLY_LOUD_DB = 3;
/** And it has the same spectrum: two stretches of noise agree to pi / 4, two moments of a voice to less. */
const SAME_SPECTRUM = 0.93;
const ONE_LINE_SHARE = 0.85;
const LINE_BINS = 2;
const SPECTRUM_HZ = { low: 40, high: 12_000 };
const MAINS_HZ = [50, 60];
/** It goes on: a knock dies away within a moment. */
const STEADY_WITHIN_DB = 1.5;
// A five-hundredth of the samples that holds most of the energy: crackle, clicks.
const IMPULSE_SHARE = 0.005;
const IMPULSIVE = 0.7;

/**
 * What a machine makes and nobody says: timecode, a line-up tone or beeps, hum, buzz, crackle. It is told by what it does over time: as loud and of
 * the same spectrum each time it sounds, or all in single samples; timecode is read. null where none of it is.
 */
export function madeSignal(
  measurement: Pick<Measurement, 'sampleRate' | 'blockSeconds' | 'frames'>,
  channel: Pick<ChannelMeasurement, 'channel' | 'blockPower'>,
  read: SoundReader,
): Promise<MadeSignal | null> {
  return withSoundRoom((room) => madeSignalIn(room, measurement, channel, read));
}

async function madeSignalIn(
  room: SoundRoom,
  { sampleRate, blockSeconds, frames }: Pick<Measurement, 'sampleRate' | 'blockSeconds' | 'frames'>,
  { channel, blockPower }: Pick<ChannelMeasurement, 'channel' | 'blockPower'>,
  read: SoundReader,
): Promise<MadeSignal | null> {
  const stretchFrames = Math.min(frames, Math.round(STRETCH_SECONDS * sampleRate));
  const size = 2 ** Math.round(Math.log2(WINDOW_SECONDS * sampleRate));
  if (stretchFrames < size) return null;
  const blockFrames = Math.round(blockSeconds * sampleRate);
  const stretchAround = async (block: number): Promise<{ start: number; sound: Float64Array }> => {
    const middle = Math.round((block + 0.5) * blockSeconds * sampleRate);
    const start = Math.max(0, Math.min(frames - stretchFrames, middle - (stretchFrames >> 1)));
    const [sound] = await read(start, stretchFrames, [channel], [room.take(stretchFrames)]);
    return { start, sound: aboveRumble(sound, sampleRate, room) };
  };
  const moments: Moment[] = [];
  let impulsive = 0;
  // What the clip's start or end cuts short is no whole moment; it is looked at where there is no other.
  const wholeOf = (blocks: number[]): number[] => {
    const whole = blocks.filter((block) => {
      const fromStart = block * blockSeconds;
      const fromEnd = frames / sampleRate - (block + 1) * blockSeconds;
      return Math.min(fromStart, fromEnd) >= WINDOW_SECONDS;
    });
    return whole.length >= LEAST_SOUNDING ? whole : blocks;
  };
  const parts = wholeOf(loudestOfParts(blockPower));
  const least = powerFromDb(-SOUNDING_WITHIN_DB) * Math.max(...parts.map((block) => blockPower[block]));
  for (const [seen, block] of parts.entries()) {
    // The loudest first: what comes later can only be less even.
    if (seen - impulsive >= parts.length / 2 && !evenlyLoud(moments)) return null;
    const { start, sound } = await stretchAround(block);
    const timecode = readTimecodeSound(sound, sampleRate);
    if (timecode) {
      return { kind: 'timecode', hz: null, timecode: clipStart(timecode, start, sampleRate) };
    }
    if (isImpulsive(sound)) impulsive++;
    // Of a sound beside a pause the stretch around the pause has a piece.
    if (blockPower[block] >= least) moments.push(loudestMoment(sound, size));
  }
  if (moments.length === 0) return null;
  const isCrackle = impulsive > parts.length / 2;
  const made = isCrackle ? CRACKLE : fromMoments(moments, size, sampleRate);
  if (made === null) return null;
  // The loudest of a loop is one sound again and again, as are the beats of a drum. Of what a machine makes all else is like it.
  const usual: Float64Array[] = [];
  for (const block of wholeOf(usualOfParts(blockPower))) {
    const { start, sound } = await stretchAround(block);
    const first = Math.round(block * blockSeconds * sampleRate) - start;
    // A voice that swells and falls is nowhere far from where it is loudest.
    usual.push(sound.subarray(Math.max(0, first - (size >> 1)), first + blockFrames + (size >> 1)));
  }
  const isAllLikeIt = isCrackle
    ? usual.filter(isImpulsive).length > usual.length / 2
    : fromMoments([...moments, ...usual.map((sound) => loudestMoment(sound, size))], size, sampleRate) !== null;
  return isAllLikeIt ? made : null;
}

/** What a clip starts at, by a frame of timecode that was read in it. */
function clipStart({ label, rate, startSample }: TimecodeFrame, start: number, sampleRate: number): string | null {
  const at = secondsFromTimecode(label, rate);
  if (at === null) return null;
  const began = at - (start + startSample) / sampleRate;
  // The middle of the frame: what was read is known to a few samples.
  const middle = began + rate.denominator / rate.numerator / 2;
  return timecodeFromSeconds(middle < 0 ? middle + DAY_SECONDS : middle, rate);
}

const CRACKLE: MadeSignal = { kind: 'interference', hz: null, timecode: null };

interface Moment {
  power: number;
  sound: Float64Array;
}

function fromMoments(moments: Moment[], size: number, sampleRate: number): MadeSignal | null {
  const sounding = soundingOf(moments);
  if (
    sounding.length < LEAST_SOUNDING ||
    !evenlyLoud(moments) ||
    !sounding.every((moment) => isSteady(moment, sampleRate))
  )
    return null;
  const transform = sharedTransform(size, 'hann');
  const binHz = sampleRate / size;
  const summed = noPowers(size);
  const spectra = sounding.map(({ sound }) => {
    transform.add(sound, sound);
    return sharesOf(transform.take(summed).left, SPECTRUM_HZ.low / binHz, SPECTRUM_HZ.high / binHz);
  });
  if (sameness(spectra) < SAME_SPECTRUM) return null;
  const mean = meanOf(spectra);
  const top = mean.reduce((best, power, k) => (power > mean[best] ? k : best), 0);
  let line = 0;
  let centre = 0;
  for (let k = top - LINE_BINS; k <= top + LINE_BINS; k++) {
    line += mean[k] ?? 0;
    centre += k * (mean[k] ?? 0);
  }
  // Between its bins a line lies where they balance.
  const hz = Math.round((centre / line) * binHz);
  if (line > ONE_LINE_SHARE) return { kind: isMains(hz, binHz) ? 'hum' : 'tone', hz, timecode: null };
  return { kind: isMains(hz, binHz) ? 'hum' : 'interference', hz: null, timecode: null };
}

/** Each bin's share of the power from one bin up to another; 0 beyond them. */
function sharesOf(powers: Float64Array, least: number, most: number): Float64Array {
  const first = Math.ceil(least);
  const last = Math.min(powers.length - 1, Math.floor(most));
  const shares = new Float64Array(powers.length);
  let total = 0;
  for (let k = first; k <= last; k++) total += powers[k];
  if (total > 0) for (let k = first; k <= last; k++) shares[k] = powers[k] / total;
  return shares;
}

function meanOf(spectra: Float64Array[]): Float64Array {
  const mean = new Float64Array(spectra[0].length);
  for (const spectrum of spectra) for (let k = 0; k < mean.length; k++) mean[k] += spectrum[k] / spectra.length;
  return mean;
}

/** What is no pause between the others; none where nothing sounds. */
function soundingOf(moments: Moment[]): Moment[] {
  const loudest = Math.max(...moments.map(({ power }) => power));
  return moments.filter(({ power }) => power > 0 && dbFromPower(power / loudest) > -SOUNDING_WITHIN_DB);
}

function evenlyLoud(moments: Moment[]): boolean {
  const powers = soundingOf(moments).map(({ power }) => power);
  return dbFromPower(Math.max(...powers) / Math.min(...powers)) <= EVENLY_LOUD_DB;
}

/** As loud at the end of a moment as at its start: in its halves, or in a wave of the mains, as a half of it is no whole number of them. */
function isSteady({ sound }: Moment, sampleRate: number): boolean {
  const power = (start: number, length: number): number => energyOf(sound, start, length) + 1e-20;
  return [sound.length >> 1, ...MAINS_HZ.map((mains) => Math.round(sampleRate / mains))].some(
    (length) => Math.abs(dbFromPower(power(0, length) / power(sound.length - length, length))) < STEADY_WITHIN_DB,
  );
}

/** Whether a line may be one of the mains' lowest, as well as this window tells. */
function isMains(hz: number, binHz: number): boolean {
  return MAINS_HZ.some((mains) => [1, 2, 3].some((harmonic) => Math.abs(hz - harmonic * mains) <= binHz));
}

/** How much each two spectra agree (Bhattacharyya 1943), 1 where all are the same; the least of them, as one that differs is enough. */
function sameness(spectra: Float64Array[]): number {
  const roots = spectra.map((spectrum) => spectrum.map(Math.sqrt));
  let least = 1;
  for (let a = 0; a < roots.length; a++)
    for (let b = a + 1; b < roots.length; b++) least = Math.min(least, sumsOfProducts(roots[a], roots[b]).both);
  return least;
}

function loudestMoment(sound: Float64Array, size: number): Moment {
  const step = size / STEPS;
  const energies = Array.from({ length: Math.floor(sound.length / step) }, (_, i) => energyOf(sound, i * step, step));
  let best: Moment = { power: -1, sound };
  for (let first = 0; first * step + size <= sound.length; first++) {
    let energy = 0;
    for (let i = 0; i < STEPS; i++) energy += energies[first + i];
    if (energy / size > best.power)
      best = { power: energy / size, sound: sound.subarray(first * step, first * step + size) };
  }
  return best;
}

function energyOf(sound: Float64Array, start: number, length: number): number {
  return sumOfSquares(sound.subarray(start, start + length));
}

function isImpulsive(sound: Float64Array): boolean {
  const most = largestMagnitude(sound);
  // Were they all as large as the largest, they would hold no more than this: mostly that is too little.
  if (most * most * IMPULSE_SHARE * sound.length < IMPULSIVE * sumOfSquares(sound)) return false;
  const squares = sound.map((x) => x * x);
  const least = percentile(squares, 1 - IMPULSE_SHARE);
  let few = 0;
  let over = 0;
  let total = 0;
  for (const square of squares) {
    total += square;
    if (square <= least) continue;
    few += square;
    over++;
  }
  few += (squares.length - Math.floor((1 - IMPULSE_SHARE) * squares.length) - over) * least;
  return total > 0 && few > IMPULSIVE * total;
}
