import { powerOf } from '@pocket-twin/core/kernels/stretchSums.ts';
import type { Chance } from '@pocket-twin/core/synth/chance.ts';
import { gain, mix, type Mono, RATE } from '@pocket-twin/core/synth/mono.ts';
import { hiss } from '@pocket-twin/core/synth/noise.ts';
import type { Case, Maker } from './case.ts';
import { resampled } from './codec.ts';
import { speech } from './sources.ts';

// The same truths in other files: half a second long, at any rate, and among a recorder's other tracks.

const RATES = [8000, 11025, 16000, 22050, 24000, 32000, 44100, 88200, 96000, 176400, 192000];
const TRIED = 8;

/** Half a second to three, where somebody is heard. */
export function briefOf(chance: Chance, frames: number, makers: Maker[]): Case {
  const whole = chance.pick(makers)(chance, frames);
  const length = Math.round(chance.betweenRatios(0.5, 3) * RATE);
  const starts = Array.from({ length: TRIED }, () => chance.integer(0, frames - length));
  const heard = (start: number): number =>
    whole.sides.reduce((sum, side) => sum + powerOf(side.subarray(start, start + length)), 0);
  const start = starts.reduce((best, one) => (heard(one) > heard(best) ? one : best));
  return {
    ...whole,
    what: `${(length / RATE).toFixed(1)} s of ${whole.what}`,
    sides: whole.sides.map((side) => side.slice(start, start + length)) as [Mono, Mono],
  };
}

/** What any recorder may have been set to. */
export function atOtherRate(chance: Chance, frames: number, makers: Maker[]): Case {
  const one = chance.pick(makers)(chance, frames);
  const rate = chance.pick(RATES);
  return {
    ...one,
    what: `${one.what}, at ${rate} Hz`,
    sides: resampled(one.sides, RATE, rate) as [Mono, Mono],
    rate,
    ...(one.disguise ? { disguise: { ...one.disguise, delaySamples: (one.disguise.delaySamples * rate) / RATE } } : {}),
  };
}

/** A pair among three to twenty-four tracks: people on microphones of their own, empty inputs, copies of them. */
export function amongTracks(chance: Chance, frames: number, makers: Maker[]): Case {
  const one = chance.pick(makers)(chance, Math.min(frames, 10 * RATE));
  const length = Math.min(...one.sides.map((side) => side.length));
  const count = chance.integer(3, 24);
  const pair = chance.integer(0, (count >> 1) - 1);
  const channels: Mono[] = [];
  // Of people: who is heard on which channels.
  const kept: number[][] = [];
  const at = [2 * pair, 2 * pair + 1];
  for (let c = 0; c < count; c++) {
    const side = at.indexOf(c);
    const kind = chance.pick(['own', 'empty', 'copy'] as const);
    if (side >= 0) channels.push(one.sides[side].slice(0, length));
    else if (kind === 'empty' || (kind === 'copy' && kept.length === 0))
      channels.push(
        chance.often(0.3) ? new Float64Array(length) : hiss(length, chance.between(-90, -60), chance.seed()),
      );
    else if (kind === 'copy') {
      const group = chance.pick(kept);
      channels.push(gain(channels[group[0]], -chance.pick([0, 0, 12, 20])));
      group.push(c);
    } else {
      const person = gain(speech(chance, length), chance.between(-14, 0));
      channels.push(mix(person, hiss(length, chance.between(-90, -66), chance.seed())));
      kept.push([c]);
    }
  }
  kept.push(...keptOf(one, at));
  return { ...one, what: `${one.what}, channels ${at[0] + 1} and ${at[1] + 1} of ${count}`, channels, pair, kept };
}

/** Of which channels one must be there afterwards. */
function keptOf({ verdict, side }: Case, [left, right]: number[]): number[][] {
  if (verdict === 'silent') return [];
  if (verdict === 'one-sided') return [[side === 'left' ? left : right]];
  return verdict === 'dual-mono' || verdict === 'fake-stereo' ? [[left, right]] : [[left], [right]];
}
