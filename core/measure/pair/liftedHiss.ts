import { NOTHING_POWER } from '../boundaries.ts';
import type { ChannelMeasurement } from '../measurement.ts';
import { percentile } from '../stream/noiseFloor.ts';
import { dbFromPower, powerFromDb } from '../../signal/decibels.ts';

// Of the power of noise the part in the band of speech is the same in every block: by chance it moves by 0.2 dB, that of a voice or of an instrument by 0.8 and more.
const NOISE_MOVES_DB = 0.5;
// Of what else makes noise (rain, a crowd beside a voice) the level comes to -0.6 against the voice's by chance, in ten seconds.
const RUNS_AGAINST = -0.75;
const LEAST_SECONDS = 4;
/** How fast the gain may come back, as the time in which it rises by 4.3 dB; it falls at once. */
const RELEASES_SECONDS = [0.1, 0.2, 0.4, 0.8, 1.6];
/** No preamplifier is as loud, however far it is turned up. */
const MOST_POWER = powerFromDb(-30);
const LOUD_SHARE = 0.95;
/** While the gain comes back the noise rises, but for chance; what speaks there falls between its syllables. */
const FALLS_DB = 1;
const FALLS_SHARE = 0.05;
/** Of the loudest: no gain opens further for what is softer still. */
const RANGE = powerFromDb(-50);
/** A tone under a gain that follows another side is music that makes room for a voice. */
const MOST_TONAL_SHARE = 0.1;

/**
 * Whether a channel is hiss that an automatic gain lifts whenever the other is quiet: noise of one spectrum throughout, whose level runs against the
 * other's as a gain would that follows it. Two microphones run with each other; a place has no reason to be quiet while somebody speaks.
 */
export function isLiftedHiss(
  { blockPower, blockSpeechPower, tone }: Pick<ChannelMeasurement, 'blockPower' | 'blockSpeechPower' | 'tone'>,
  live: Pick<ChannelMeasurement, 'blockSpeechPower'>,
  blockSeconds: number,
): boolean {
  if ((tone?.tonalShare ?? 0) > MOST_TONAL_SHARE || percentile(blockPower, LOUD_SHARE) > MOST_POWER) return false;
  // The last block may be a part of one.
  const sounding = [...blockPower.keys()].slice(0, -1).filter((i) => blockSpeechPower[i] > NOTHING_POWER);
  if (sounding.length * blockSeconds < LEAST_SECONDS) return false;
  const shares = sounding.map((i) => dbFromPower(blockSpeechPower[i] / blockPower[i]));
  if (deviation(shares) > NOISE_MOVES_DB) return false;
  const levels = sounding.map((i) => dbFromPower(blockSpeechPower[i]));
  return RELEASES_SECONDS.some((seconds) => {
    const all = heldLevels(live.blockSpeechPower, Math.exp(-blockSeconds / seconds));
    const held = sounding.map((i) => all[i]);
    return correlation(levels, held) < RUNS_AGAINST && fallsWhereItShouldRise(levels, held) < FALLS_SHARE;
  });
}

/** The share of the blocks after which the gain comes back in which the level falls. */
function fallsWhereItShouldRise(levels: number[], held: number[]): number {
  const comesBack = levels.flatMap((level, i) => (i > 0 && held[i] < held[i - 1] ? [level - levels[i - 1]] : []));
  return comesBack.filter((risesDb) => risesDb < -FALLS_DB).length / Math.max(1, comesBack.length);
}

/** What a gain goes by that falls with the level and comes back slowly, in dB. @param kept of its power a block later */
function heldLevels(powers: Float64Array, kept: number): Float64Array {
  const least = RANGE * powers.reduce((most, power) => Math.max(most, power), NOTHING_POWER);
  let held = least;
  return powers.map((power) => {
    held = Math.max(power, held * kept, least);
    return dbFromPower(held);
  });
}

function meanOf(values: number[]): number {
  return values.reduce((sum, value) => sum + value, 0) / values.length;
}

function deviation(values: number[]): number {
  const mean = meanOf(values);
  return Math.sqrt(meanOf(values.map((value) => (value - mean) ** 2)));
}

/** Pearson's. */
function correlation(one: number[], other: number[]): number {
  const means = [one, other].map(meanOf);
  const together = meanOf(one.map((value, i) => (value - means[0]) * (other[i] - means[1])));
  const most = deviation(one) * deviation(other);
  return most > 0 ? together / most : 0;
}
