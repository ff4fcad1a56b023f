import { dbFromPower, powerFromDb } from '../../signal/decibels.ts';
import { momentsOf, noiseOf, OVER_NOISE } from './dyingAway.ts';

/** A side, and what a filter of the other one leaves of it. */
export interface Foretold {
  target: Float64Array;
  residual: Float64Array;
}

// So much louder than the moments before it sets in, so much softer it dies away.
const SETS_IN = powerFromDb(3);
const DIES = powerFromDb(-4);
const MOMENTS_BEFORE = 5;
const FEWEST = 10;

/**
 * How much more a filter leaves of what dies away than of what sets in, in dB. A room goes on sounding once the voice has stopped (H. Kuttruff, "Room
 * Acoustics", reverberation), from all round, which no filter foretells; what a lossy coder adds follows the voice. null where too little sets in or dies away.
 */
export function dyingResidualDb(sounds: Foretold[], pauses: Foretold[], sampleRate: number): number | null {
  const moments = ({ target, residual }: Foretold): ReturnType<typeof momentsOf> =>
    momentsOf({ startFrame: 0, left: target, right: residual }, 0, sampleRate);
  const noise = noiseOf(pauses.map(moments));
  const begun: number[] = [];
  const dying: number[] = [];
  for (const { left: whole, right: rest } of sounds.map(moments)) {
    for (let i = MOMENTS_BEFORE + 1; i < whole.length; i++) {
      if (whole[i] <= OVER_NOISE * noise.left) continue;
      let before = 0;
      for (let k = 2; k <= MOMENTS_BEFORE + 1; k++) before += whole[i - k] / MOMENTS_BEFORE;
      const share = Math.max(0, rest[i] - noise.right) / (whole[i] - noise.left);
      if (whole[i] > SETS_IN * before) begun.push(share);
      else if (whole[i] < DIES * before) dying.push(share);
    }
  }
  if (begun.length < FEWEST || dying.length < FEWEST) return null;
  const mean = (shares: number[]): number => shares.reduce((sum, share) => sum + share, 0) / shares.length;
  return dbFromPower(mean(dying) / Math.max(mean(begun), 1e-12));
}
