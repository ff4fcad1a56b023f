import { convolve } from '@pocket-twin/core/synth/convolve.ts';
import { instrument, drums } from '@pocket-twin/core/synth/instruments.ts';
import { mix, RATE, type Mono } from '@pocket-twin/core/synth/mono.ts';
import { addPulse } from '@pocket-twin/core/synth/shoebox.ts';
import { hiss } from '@pocket-twin/core/synth/noise.ts';
import type { Chance } from '@pocket-twin/core/synth/chance.ts';
import { throughCodec, type Codec } from './codec.ts';
import { speech } from './sources.ts';

// What comes in, what an input adds to it, and what a coder leaves of it.

export const programme = (chance: Chance, frames: number): Mono =>
  chance.often(0.75) ? speech(chance, frames) : mix(instrument(chance, frames), drums(chance, frames));
export const preamp = (chance: Chance): number => chance.between(-90, -62);

export function withNoise(chance: Chance, sides: [Mono, Mono], level = preamp(chance)): [Mono, Mono] {
  return sides.map((side) => mix(side, hiss(side.length, level + chance.between(-1, 1), chance.seed()))) as [
    Mono,
    Mono,
  ];
}

export function maybeCoded(chance: Chance, sides: [Mono, Mono], share: number): { sides: [Mono, Mono]; coded: string } {
  if (!chance.often(share)) return { sides, coded: '' };
  const codec = chance.pick<Codec>(['mp3', 'aac', 'opus']);
  const kilobits = chance.pick([96, 128, 160, 192]);
  return { sides: throughCodec(sides, codec, kilobits, RATE), coded: `, ${codec} ${kilobits}` };
}

/** Later by any number of samples. */
export function delayed(sound: Mono, samples: number): Mono {
  const response = new Float64Array(Math.ceil(samples) + 16);
  addPulse(response, samples, 1);
  return convolve(sound, response);
}
