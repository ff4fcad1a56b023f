import type { Mono } from '@pocket-twin/core/synth/mono.ts';
import type { Chance } from '@pocket-twin/core/synth/chance.ts';
import type { Microphone } from '@pocket-twin/core/synth/shoebox.ts';
import type { Maker } from './case.ts';
import { recorded, type Point } from './fields.ts';
import { beforeAPair } from './sources.ts';

// Mid and side as they were recorded, never decoded.

const AHEAD = Math.PI / 2;

/** A microphone that faces the people and a figure of eight across it, one over the other. */
export const midAndSide: Maker = (chance, frames) => {
  const at: Point = [0, 0, 1.4];
  const mid: Microphone = { at, directivity: chance.pick([0, 0.4, 0.5]), facing: AHEAD };
  const side: Microphone = { at, directivity: 1, facing: AHEAD + Math.PI / 2 };
  const { people, sounds } = beforeAPair(chance, frames);
  const sides = recorded(chance, {
    sounds,
    seats: before(chance, sounds),
    microphones: chance.often(0.8) ? [mid, side] : [side, mid],
    together: true,
  });
  return { what: `mid and side: ${people}`, verdict: 'stereo', ownOnBoth: true, finding: 'mid-side', sides };
};

/** People or players before a microphone, from left to right. */
function before(chance: Chance, sounds: Mono[]): Point[] {
  return sounds.map((_, i): Point => {
    const spread =
      sounds.length === 1
        ? chance.between(-0.6, 0.6)
        : -0.7 + (1.4 * i) / (sounds.length - 1) + chance.between(-0.15, 0.15);
    const metres = chance.between(0.8, 2.5);
    return [metres * Math.sin(spread), metres * Math.cos(spread), 1.2];
  });
}
