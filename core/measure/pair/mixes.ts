import type { Measurement, MixedChannel } from '../measurement.ts';
import type { SoundReader } from '../soundReader.ts';
import { aboveRumble } from '../spectra/aboveRumble.ts';
import { loudestBlocks } from './channelPairs.ts';

const STRETCHES = 12;
const STRETCH_SECONDS = 0.25;
// Every so many samples one: what holds for all holds for these.
const EVERY = 3;
/** What is left of a mix once its channels are taken off, as a share of its power: a recorder adds samples, and microphones of one room never come near. */
const MOST_LEFT_OVER = 10 ** (-25 / 10);
// What adds less than this share of the mix's power is not told to be in it.
const LEAST_IN_MIX = 1e-3;
const LEAST_CHANNELS = 3;
const MOST_SWEEPS = 300;
const SETTLED = 1e-6;

/**
 * Channels that are sums of others, each by a gain of its own and at the same time: the mix that a recorder makes beside the single microphones.
 * Neighbours are tried together first, as a mix in stereo, then each by itself. No gain is negative: each microphone is also the mix less all others.
 */
export async function findMixes(measurement: Measurement, read: SoundReader): Promise<MixedChannel[]> {
  const { channels, duplicates, sampleRate, blockSeconds } = measurement;
  const copies = new Set(duplicates.flatMap((group) => group.slice(1)));
  const sounding = channels.filter(({ peak }) => peak > 0).map(({ channel }) => channel);
  if (sounding.length < LEAST_CHANNELS) return [];
  const products = new Float64Array(channels.length ** 2);
  const frames = Math.round(STRETCH_SECONDS * sampleRate);
  const powers = sounding.map((channel) => channels[channel - 1].blockSpeechPower);
  for (const block of loudestBlocks(powers, STRETCHES)) {
    const sounds = await read(Math.round(block * blockSeconds * sampleRate), frames, sounding);
    addProducts(
      products,
      sounds.map((sound) => aboveRumble(sound, sampleRate)),
      sounding,
      channels.length,
    );
  }
  const productOf = (a: number, b: number): number => products[(a - 1) * channels.length + b - 1];
  const others = (mixed: readonly number[]): number[] =>
    sounding.filter((channel) => !mixed.includes(channel) && !copies.has(channel));
  const sidesOfAMix = measurement.pairs
    .map(({ channels: pair }) => pair)
    .filter((pair) => pair.every((channel) => sounding.includes(channel)));
  for (const mixed of [...sidesOfAMix, ...sounding.map((channel) => [channel])]) {
    const found = mixed.map((channel) => mixOf(channel, others(mixed), productOf));
    if (found.every((mix) => mix !== null)) return found;
  }
  return [];
}

function addProducts(products: Float64Array, sounds: Float64Array[], sounding: number[], width: number): void {
  sounds.forEach((one, a) => {
    for (let b = a; b < sounds.length; b++) {
      const other = sounds[b];
      let sum = 0;
      for (let i = 0; i < one.length; i += EVERY) sum += one[i] * other[i];
      products[(sounding[a] - 1) * width + sounding[b] - 1] += sum;
      if (a !== b) products[(sounding[b] - 1) * width + sounding[a] - 1] += sum;
    }
  });
}

/** Gains of nought and more that leave least (coordinate descent: each in turn to its best, until all stay). */
function mixOf(channel: number, sources: number[], productOf: (a: number, b: number) => number): MixedChannel | null {
  const power = productOf(channel, channel);
  const alive = sources.filter((source) => productOf(source, source) > 0);
  if (power === 0 || alive.length < 2) return null;
  const gains = alive.map(() => 0);
  for (let sweep = 0, moved = 1; sweep < MOST_SWEEPS && moved > SETTLED; sweep++) {
    moved = 0;
    alive.forEach((source, i) => {
      let rest = productOf(source, channel);
      alive.forEach((other, j) => {
        if (j !== i) rest -= gains[j] * productOf(source, other);
      });
      const gain = Math.max(0, rest / productOf(source, source));
      moved = Math.max(moved, Math.abs(gain - gains[i]));
      gains[i] = gain;
    });
  }
  let left = power;
  alive.forEach((source, i) => {
    left -= 2 * gains[i] * productOf(source, channel);
    alive.forEach((other, j) => (left += gains[i] * gains[j] * productOf(source, other)));
  });
  const of = alive.filter((source, i) => gains[i] ** 2 * productOf(source, source) > LEAST_IN_MIX * power);
  return left <= MOST_LEFT_OVER * power && of.length > 1 ? { channel, of } : null;
}
