import { noPowers, sharedTransform, type CrossPowers } from '../../kernels/fourier.ts';
import { SPEECH_BAND_HZ } from '../stream/speechBand.ts';
import type { ChannelMeasurement, ChannelTone, Measurement } from '../measurement.ts';
import type { SoundReader } from '../soundReader.ts';
import { withSoundRoom } from '../soundRoom.ts';

// Bins of about 3 Hz keep 50 and 60 Hz and their harmonics apart.
const WINDOW_SECONDS = 0.34;
const STRETCHES = 4;
const MAINS_HZ = [50, 60];
// Of nobody's voice anything lies lower.
const LOWEST_VOICE_HZ = 70;
const HARMONICS = 8;
// A rectifier buzzes up to here.
const BUZZ_HARMONICS = 30;
const SPEECH_HZ = { low: 150, high: 6000 };
// A tone stands this far out of the median of the bins around it.
const TONE_RATIO = 100;
const NEIGHBOURHOOD_BINS = 25;

/** Looks at the quietest stretches of a channel: what hums there, and whether what sounds is tones. */
export async function channelTone(
  measurement: Pick<Measurement, 'sampleRate' | 'blockSeconds'>,
  channel: Pick<ChannelMeasurement, 'channel' | 'blockPower'>,
  read: SoundReader,
): Promise<ChannelTone> {
  const { sampleRate, blockSeconds } = measurement;
  const size = 2 ** Math.round(Math.log2(WINDOW_SECONDS * sampleRate));
  const windowBlocks = Math.ceil(size / sampleRate / blockSeconds);
  return withSoundRoom(async (room) => {
    const sounds: Float64Array[] = [];
    for (const block of quietest(channel.blockPower, windowBlocks)) {
      const startFrame = Math.round(block * blockSeconds * sampleRate);
      sounds.push((await read(startFrame, size, [channel.channel], [room.take(size)]))[0]);
    }
    return toneOf(meanPowers(sounds, size), sampleRate / size);
  });
}

function toneOf(powers: Float64Array, binHz: number): ChannelTone {
  const humAt = (mainsHz: number): number => {
    let sum = 0;
    for (let h = 1; h <= HARMONICS; h++) sum += tonePower(powers, Math.round((h * mainsHz) / binHz));
    return sum;
  };
  const mainsHz = humAt(MAINS_HZ[0]) >= humAt(MAINS_HZ[1]) ? MAINS_HZ[0] : MAINS_HZ[1];
  const humPower = humAt(mainsHz);
  return {
    tonalShare: tonalShare(powers, binHz, mainsHz, humPower > 0),
    humPower,
    mainsHz,
    speechHumPower: humInSpeech(powers, binHz, humPower > 0 ? mainsHz : null),
  };
}

// One after another: it is used up within one synchronous step.
let taken: CrossPowers | null = null;

/** Of the bins of some sounds, each `size` samples long, from 0 to half the rate: a sine's is its mean square. Overwritten by the next call. */
function meanPowers(sounds: Float64Array[], size: number): Float64Array {
  const transform = sharedTransform(size, 'hann');
  // Two go through one transform.
  for (let i = 0; i < sounds.length; i += 2) transform.add(sounds[i], sounds[i + 1] ?? new Float64Array());
  if (taken?.left.length !== size / 2 + 1) taken = noPowers(size);
  const { left, right } = transform.take(taken);
  // Von Hann's window has a mean square of 3/8.
  const scale = 2 / (0.375 * size * size * Math.max(1, sounds.length));
  for (let k = 0; k < left.length; k++) left[k] = (left[k] + right[k]) * scale;
  return left;
}

/** Power of a bin and its neighbours where they stand out of what is around them; else 0. */
function tonePower(powers: Float64Array, bin: number): number {
  const peak = Math.max(powers[bin - 1] ?? 0, powers[bin] ?? 0, powers[bin + 1] ?? 0);
  if (!standsOut(peak, powers, bin)) return 0;
  let sum = 0;
  for (let k = bin - 2; k <= bin + 2; k++) sum += powers[k] ?? 0;
  return sum;
}

function tonalShare(powers: Float64Array, binHz: number, mainsHz: number, hums: boolean): number {
  let tones = 0;
  let total = 0;
  for (let k = Math.ceil(SPEECH_HZ.low / binHz); k < Math.min(powers.length, SPEECH_HZ.high / binHz); k++) {
    total += powers[k];
    const harmonic = Math.round((k * binHz) / mainsHz);
    const buzz = hums && harmonic <= BUZZ_HARMONICS && Math.abs(k * binHz - mainsHz * harmonic) <= 2 * binHz;
    if (!buzz && standsOut(powers[k], powers, k)) tones += powers[k];
  }
  return total > 0 ? tones / total : 0;
}

/** Of what the meter of the speech band reads, that which lies under any voice or in lines of the mains (mean square). */
function humInSpeech(powers: Float64Array, binHz: number, mainsHz: number | null): number {
  let sum = 0;
  for (let k = 1; k < powers.length; k++) {
    const hz = k * binHz;
    if (hz >= LOWEST_VOICE_HZ && !(mainsHz !== null && isOfTheMains(powers, k, binHz, mainsHz))) continue;
    // What filters of two poles at either end of the band let through (Butterworth, 1930).
    sum += powers[k] / (1 + (SPEECH_BAND_HZ.low / hz) ** 4) / (1 + (hz / SPEECH_BAND_HZ.high) ** 4);
  }
  return sum;
}

function isOfTheMains(powers: Float64Array, bin: number, binHz: number, mainsHz: number): boolean {
  const harmonic = Math.round((bin * binHz) / mainsHz);
  if (harmonic < 1 || harmonic > BUZZ_HARMONICS) return false;
  const line = Math.round((harmonic * mainsHz) / binHz);
  return Math.abs(bin - line) <= 2 && tonePower(powers, line) > 0;
}

/** Whether a power is beyond `TONE_RATIO` times the median of the bins around one: whether more than half of them are that far below. */
function standsOut(power: number, powers: Float64Array, bin: number): boolean {
  const first = Math.max(1, bin - NEIGHBOURHOOD_BINS);
  const last = Math.min(powers.length - 1, bin + NEIGHBOURHOOD_BINS);
  const half = (last - first + 1) >> 1;
  let below = 0;
  // Of nearly every bin half of those around it tell that it does not.
  for (let k = first; k <= last && below + (last - k) >= half; k++) if (powers[k] * TONE_RATIO < power) below++;
  return below > half;
}

function quietest(powers: Float64Array, windowBlocks: number): number[] {
  const starts: { block: number; power: number }[] = [];
  for (let block = 0; block + windowBlocks <= powers.length; block += windowBlocks) {
    let power = 0;
    for (let i = block; i < block + windowBlocks; i++) power = powers[i] === 0 ? Infinity : Math.max(power, powers[i]);
    if (power < Infinity) starts.push({ block, power });
  }
  return starts
    .sort((a, b) => a.power - b.power)
    .slice(0, STRETCHES)
    .map(({ block }) => block)
    .sort((a, b) => a - b);
}
