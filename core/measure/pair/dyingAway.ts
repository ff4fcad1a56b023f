import { powerFromDb } from '../../signal/decibels.ts';
import { percentile } from '../stream/noiseFloor.ts';
import { within, type MatchInput, type StretchSound } from './matchInput.ts';

/** What speech leaves in a room as it dies away, of some stretches. */
export interface DyingAway {
  /** How much further what comes straight stands over the room on the left side than on the right, in dB: each side's own loudness falls out of it. */
  leftMoreDirectDb: number;
  /** How much louder left is than right in what is left of the room alone, in dB. */
  leftLouderDb: number;
  /** How far the sides agree on that, -1..1, heard at once. */
  agreement: number;
}

/** The sound of speech in one stretch: how loud left is over right while it is loud, and at each moment at which it dies away. */
interface Falls {
  loudDb: number;
  dying: { levelDifferenceDb: number; agreement: number }[];
}

/** The power of each side in each moment, and what they share. */
export interface Moments {
  left: Float64Array;
  right: Float64Array;
  product: Float64Array;
}

// Speech leaves a gap between its syllables that a room fills; moments are shorter than either.
const MOMENT_SECONDS = 0.01;
const SINCE_LOUD_SECONDS = 0.2;
// Dying: so far under the loudest moment just before, and under the last. Loud: within 3 dB of it.
const DYING = powerFromDb(-12);
const LOUD = powerFromDb(-3);
/** A moment tells of what sounds where it is so much louder than the noise. */
export const OVER_NOISE = powerFromDb(9);
const LEAST_LOUD = 3;
const LEAST_DYING = 12;
// About what is left of the rate when samples are summed to this many a second: the differences of the sums hold some 500 Hz to 6 kHz.
const SUMS_PER_SECOND = 12_000;

/** Of each stretch; null where it has no loud moments. */
export function fallsOf({ active, pauses, margin, sampleRate }: MatchInput): (Falls | null)[] {
  const noise = noiseOf(pauses.map((sound) => momentsOf(sound, margin, sampleRate)));
  return active.map((sound) => fallsIn(momentsOf(sound, margin, sampleRate), noise));
}

/** As loud as the quietest pause of either side; 0 without pauses. */
export function noiseOf(pauses: Moments[]): { left: number; right: number } {
  if (pauses.length === 0) return { left: 0, right: 0 };
  return {
    left: Math.min(...pauses.map(({ left }) => meanOf(left))),
    right: Math.min(...pauses.map(({ right }) => meanOf(right))),
  };
}

/** Of some stretches together, the median of all moments; null where too little dies away over the noise. */
export function dyingAway(falls: readonly (Falls | null)[]): DyingAway | null {
  const dying = falls.flatMap((one) => one?.dying.map((moment) => ({ ...moment, loudDb: one.loudDb })) ?? []);
  if (dying.length < LEAST_DYING) return null;
  return {
    leftMoreDirectDb: percentile(
      dying.map(({ loudDb, levelDifferenceDb }) => loudDb - levelDifferenceDb),
      0.5,
    ),
    leftLouderDb: percentile(
      dying.map(({ levelDifferenceDb }) => levelDifferenceDb),
      0.5,
    ),
    agreement: dying.reduce((sum, { agreement }) => sum + agreement, 0) / dying.length,
  };
}

function fallsIn({ left, right, product }: Moments, noise: ReturnType<typeof noiseOf>): Falls | null {
  const byLeft = 1 / (meanOf(left) || 1);
  const byRight = 1 / (meanOf(right) || 1);
  const either = left.map((power, i) => power * byLeft + right[i] * byRight);
  const reach = Math.round(SINCE_LOUD_SECONDS / MOMENT_SECONDS);
  const loud: number[] = [];
  const dying: Falls['dying'] = [];
  for (let i = 1; i < either.length; i++) {
    const one = left[i] - noise.left;
    const other = right[i] - noise.right;
    if (!(left[i] > OVER_NOISE * noise.left && right[i] > OVER_NOISE * noise.right)) continue;
    let loudest = 0;
    for (let k = Math.max(0, i - reach); k < i; k++) loudest = Math.max(loudest, either[k]);
    const levelDifferenceDb = 10 * Math.log10(one / other);
    if (either[i] >= LOUD * loudest) loud.push(levelDifferenceDb);
    else if (either[i] < DYING * loudest && either[i] < either[i - 1])
      dying.push({ levelDifferenceDb, agreement: product[i] / Math.sqrt(one * other) });
  }
  return loud.length < LEAST_LOUD ? null : { loudDb: percentile(loud, 0.5), dying };
}

/** With the hum and the highest sounds left out. */
export function momentsOf(sound: StretchSound, margin: number, sampleRate: number): Moments {
  const each = Math.max(1, Math.round(sampleRate / SUMS_PER_SECOND));
  const sums = Math.round((MOMENT_SECONDS * sampleRate) / each);
  const left = within(sound.left, margin);
  const right = within(sound.right, margin);
  const count = Math.floor(left.length / (each * sums));
  const moments = { left: new Float64Array(count), right: new Float64Array(count), product: new Float64Array(count) };
  let lastLeft = 0;
  let lastRight = 0;
  for (let moment = 0, at = 0; moment < count; moment++) {
    let leftPower = 0;
    let rightPower = 0;
    let product = 0;
    for (let n = 0; n < sums; n++) {
      let leftSum = 0;
      let rightSum = 0;
      for (let k = 0; k < each; k++, at++) {
        leftSum += left[at];
        rightSum += right[at];
      }
      const one = leftSum - lastLeft;
      const other = rightSum - lastRight;
      lastLeft = leftSum;
      lastRight = rightSum;
      leftPower += one * one;
      rightPower += other * other;
      product += one * other;
    }
    moments.left[moment] = leftPower;
    moments.right[moment] = rightPower;
    moments.product[moment] = product;
  }
  return moments;
}

function meanOf(values: Float64Array): number {
  let sum = 0;
  for (const value of values) sum += value;
  return sum / values.length;
}
