import { sumsOfProducts } from '../../kernels/stretchSums.ts';
import { ONE_SIGNAL_NULL_DB } from '../boundaries.ts';
import { ceilingOf, type Ceilings } from './clippedPeaks.ts';
import { dbFromPower } from '../../signal/decibels.ts';
import type { Measurement } from '../measurement.ts';
import type { SoundReader } from '../soundReader.ts';
import { aboveRumble } from '../spectra/aboveRumble.ts';

const SAME_LEVEL_DB = 0.5;
// Peaks that are cut off take this much of a block's level at most, before a voice is past knowing.
const CUT_OFF_DB = 12;
const STRETCHES = 4;
const STRETCH_SECONDS = 0.25;

/**
 * Groups of channels (from 1) that carry the same signal at any level, where its peaks are not cut off on one of them. Their levels run side by side
 * in every block, which rules out nearly all; the rest are subtracted in the loudest blocks.
 */
export async function findDuplicates(
  { channels, sampleRate, blockSeconds }: Measurement,
  read: SoundReader,
): Promise<number[][]> {
  const groups: number[][] = [];
  for (const channel of channels) {
    if (channel.meanSquare < 1e-10) continue;
    let home: number[] | null = null;
    for (const group of groups) {
      const first = channels[group[0] - 1];
      const ceilings: Ceilings = [ceilingOf(first), ceilingOf(channel)];
      const mostApartDb = ceilings.every((ceiling) => ceiling === Infinity) ? SAME_LEVEL_DB : CUT_OFF_DB;
      if (!runsBeside(first.blockSpeechPower, channel.blockSpeechPower, mostApartDb)) continue;
      const starts = loudestBlocks(first.blockSpeechPower).map((block) =>
        Math.round(block * blockSeconds * sampleRate),
      );
      if (await nulls(starts, sampleRate, [group[0], channel.channel], ceilings, read)) {
        home = group;
        break;
      }
    }
    if (home) home.push(channel.channel);
    else groups.push([channel.channel]);
  }
  return groups.filter((group) => group.length > 1);
}

/** Whether the difference of two levels stays the same in the louder blocks. */
function runsBeside(a: Float64Array, b: Float64Array, mostApartDb: number): boolean {
  const loud = Math.max(...loudestBlocks(a).map((i) => a[i])) / 100;
  let least = Infinity;
  let most = -Infinity;
  for (let i = 0; i < a.length; i++) {
    if (a[i] < loud) continue;
    const difference = dbFromPower((b[i] + 1e-14) / a[i]);
    least = Math.min(least, difference);
    most = Math.max(most, difference);
    if (most - least > mostApartDb) return false;
  }
  return true;
}

/** The loudest first. */
function loudestBlocks(powers: Float64Array): number[] {
  const loudest: number[] = [];
  for (let i = 0; i < powers.length; i++) {
    if (loudest.length === STRETCHES && powers[i] <= powers[loudest[STRETCHES - 1]]) continue;
    let at = loudest.length;
    while (at > 0 && powers[loudest[at - 1]] < powers[i]) at--;
    loudest.splice(at, 0, i);
    loudest.length = Math.min(loudest.length, STRETCHES);
  }
  return loudest;
}

async function nulls(
  starts: number[],
  sampleRate: number,
  channels: [number, number],
  ceilings: Ceilings,
  read: SoundReader,
): Promise<boolean> {
  let left = 0;
  let right = 0;
  let product = 0;
  const frames = Math.round(STRETCH_SECONDS * sampleRate);
  const isWhole = ceilings.every((ceiling) => ceiling === Infinity);
  const into = channels.map(() => new Float64Array(frames));
  for (const start of starts) {
    const sounds = await read(start, frames, channels, into);
    // What is cut off would spread to all around it.
    const [a, b] = isWhole ? sounds.map((sound) => aboveRumble(sound, sampleRate)) : sounds;
    const sums = sumsOfProducts(a, b, ceilings);
    left += sums.left;
    right += sums.right;
    product += sums.both;
  }
  return left > 0 && right > 0 && dbFromPower(Math.max(0, 1 - product ** 2 / (left * right)) / 4) <= ONE_SIGNAL_NULL_DB;
}
