import { lowerRate } from '../spectra/lowerRate.ts';
import { amplitudeFromDb } from '../../signal/decibels.ts';
import { ArrivalFinder, strongestArrival, type WhitenedSpectrum } from '../spectra/arrival.ts';
import type { Measurement } from '../measurement.ts';
import type { SoundReader } from '../soundReader.ts';

/** Measures some channels (from 1, two for a pair, in order) of a clip by themselves. */
export type ChannelsMeter = (channels: number[]) => Promise<Measurement>;

const STRETCHES = 8;
const STRETCH_SECONDS = 0.3;
// Voices agree below 5 kHz; every pair of up to 64 channels is compared.
const ENOUGH_RATE = 12000;
const REACH_SECONDS = 0.02;
// A channel with nothing over this has only its own noise to be compared.
const LEAST_COMPARED_PEAK = amplitudeFromDb(-80);
// Two microphones in one room share this much of the whitened sound at their common delay, unrelated channels a third of it.
const SHARED_HEIGHT = 0.35;
// Neighbours often hear one room; a pair shares clearly more.
const CLEARLY_MORE = 2;

/**
 * Adds to the neighbours (1 and 2, 3 and 4, ...) of a clip with more than two channels the pairs that its sound shows: two channels
 * that share far more with each other than with their neighbours. Copies of one channel are no pair.
 */
export async function pairBySound(
  measurement: Measurement,
  read: SoundReader,
  measureChannels: ChannelsMeter,
): Promise<Measurement> {
  if (measurement.channels.length <= 2) return measurement;
  const found = choosePairs(measurement, await sharedHeights(measurement, read));
  if (found.length === 0) return measurement;
  const measured = await measureChannels(found.flat());
  return {
    ...measurement,
    pairs: [...measurement.pairs, ...measured.pairs.map((pair, p) => ({ ...pair, channels: found[p] }))],
  };
}

/** How much the whitened sound of two channels (from 0) agrees at one delay, 0..1; 0 where one carries nothing. */
type Heights = (a: number, b: number) => number;

function choosePairs({ channels, pairs, duplicates }: Measurement, heightOf: Heights): [number, number][] {
  const partners = new Map(
    pairs.flatMap(({ channels: [a, b] }) => [
      [a, b],
      [b, a],
    ]),
  );
  const height = (a: number, b: number | undefined): number => (b === undefined ? 0 : heightOf(a - 1, b - 1));
  const candidates: { pair: [number, number]; height: number }[] = [];
  for (let a = 1; a <= channels.length; a++) {
    for (let b = a + 1; b <= channels.length; b++) {
      if (partners.get(a) === b || duplicates.some((group) => group.includes(a) && group.includes(b))) continue;
      const shared = height(a, b);
      const withNeighbours = Math.max(height(a, partners.get(a)), height(b, partners.get(b)));
      if (shared >= SHARED_HEIGHT && shared >= CLEARLY_MORE * withNeighbours)
        candidates.push({ pair: [a, b], height: shared });
    }
  }
  const taken = new Set<number>();
  const found = candidates
    .sort((a, b) => b.height - a.height)
    .filter(({ pair }) => {
      if (pair.some((channel) => taken.has(channel))) return false;
      pair.forEach((channel) => taken.add(channel));
      return true;
    });
  return found.map(({ pair }) => pair).sort((a, b) => a[0] - b[0]);
}

/** Compares every two channels in the loudest stretch of each of a few parts of the clip. */
async function sharedHeights({ channels, sampleRate, blockSeconds }: Measurement, read: SoundReader): Promise<Heights> {
  let halvings = 0;
  while (sampleRate / 2 ** (halvings + 1) >= ENOUGH_RATE) halvings++;
  const rate = sampleRate / 2 ** halvings;
  const frames = Math.round(STRETCH_SECONDS * rate);
  const finder = new ArrivalFinder(rate, frames, Math.round(REACH_SECONDS * rate));
  const alive = channels.filter(({ peak }) => peak > LEAST_COMPARED_PEAK).map(({ channel }) => channel - 1);
  const spectra = channels.map((): WhitenedSpectrum[] => []);
  for (const block of loudestBlocks(
    channels.map(({ blockSpeechPower }) => blockSpeechPower),
    STRETCHES,
  )) {
    const stretch = await read(
      Math.round(block * blockSeconds * sampleRate),
      frames << halvings,
      channels.map(({ channel }) => channel),
    );
    for (const channel of alive) spectra[channel].push(finder.whitened(lowerRate(stretch[channel], halvings)));
  }
  const heights = new Map<string, number>();
  for (const a of alive) {
    for (const b of alive) {
      if (b <= a || spectra[a].length === 0) continue;
      heights.set(`${a} ${b}`, Math.abs(strongestArrival(finder.meanCorrelogram(spectra[a], spectra[b])).height));
    }
  }
  return (a, b) => heights.get(a < b ? `${a} ${b}` : `${b} ${a}`) ?? 0;
}

/** In each of so many parts of the clip the block that most channels find loud: each against its own mean. */
export function loudestBlocks(powers: Float64Array[], most: number): number[] {
  const blocks = powers[0].length;
  const together = new Float64Array(blocks);
  for (const power of powers) {
    const mean = power.reduce((sum, value) => sum + value, 0) / blocks || Infinity;
    // A square root, so that a single burst does not decide alone.
    for (let i = 0; i < blocks; i++) together[i] += Math.sqrt(power[i] / mean);
  }
  const parts = Math.min(most, blocks);
  return Array.from({ length: parts }, (_, part) => {
    const first = Math.floor((part * blocks) / parts);
    const last = Math.floor(((part + 1) * blocks) / parts);
    let best = first;
    for (let i = first; i < last; i++) if (together[i] > together[best]) best = i;
    return best;
  });
}
