import { powerOf } from '@pocket-twin/core/kernels/stretchSums.ts';
import { mix, RATE, spoken, type Mono } from '@pocket-twin/core/synth/mono.ts';
import { hiss } from '@pocket-twin/core/synth/noise.ts';
import { diffuseField } from '@pocket-twin/core/synth/diffuseField.ts';
import { heardBy, randomRoom, type Microphone } from '@pocket-twin/core/synth/shoebox.ts';
import type { Chance } from '@pocket-twin/core/synth/chance.ts';
import type { Maker } from './case.ts';
import { beforeAPair, speech, turns } from './sources.ts';

// Microphones nearer together than those of the first material, pairs further apart than its own, both in the noise of the place around them.

export type Point = Microphone['at'];

export const beside = ([x, y, z]: Point, metres: number, angle: number, rise = 0): Point => [
  x + metres * Math.cos(angle),
  y + metres * Math.sin(angle),
  z + rise,
];

export interface Scene {
  sounds: Mono[];
  seats: Point[];
  microphones: Microphone[];
  /** Two recorders' inputs are set one by one; a pair's together. */
  together: boolean;
}

/** The sounds in a room, the place's own noise, and each input's. */
export function recorded(chance: Chance, { sounds, seats, microphones, together }: Scene): [Mono, Mono] {
  const room = randomRoom(chance);
  const frames = sounds[0].length;
  // The talk is in the middle of the room, whatever its size.
  const to = room.size.map((size, axis) => (axis < 2 ? size / 2 : 0));
  const placed = (at: Point): Point => [at[0] + to[0], at[1] + to[1], at[2]];
  const mics = microphones.map((one) => ({ ...one, at: placed(one.at) }));
  const sides = mics.map(() => new Float64Array(frames) as Mono);
  sounds.forEach((sound, s) => {
    heardBy(chance, sound, placed(seats[s]), mics, room).forEach((one, m) => {
      sides[m] = mix(sides[m], one);
    });
  });
  const place = diffuseField(chance, frames, mics);
  // So far under what a microphone at a metre hears of the talk.
  const overPlaceDb = chance.between(18, 50);
  const scale = Math.sqrt((powerOf(sides[1]) / powerOf(place[1])) * 10 ** (-overPlaceDb / 10));
  const noisy = sides.map((side, m) => side.map((x, i) => x + scale * place[m][i]));
  const hissDbfs = chance.between(-90, -64);
  const levelDbfs = chance.between(-28, -17);
  const gain = 10 ** (levelDbfs / 20) / Math.sqrt(Math.max(...noisy.map(powerOf)));
  const set = noisy.map((side) =>
    together ? side.map((x) => x * gain) : spoken(side, levelDbfs + chance.between(-6, 6)),
  );
  return set.map((side) =>
    mix(side, hiss(frames, hissDbfs + (together ? chance.between(-1, 1) : chance.between(-10, 10)), chance.seed())),
  ) as [Mono, Mono];
}

const onEitherSide = (chance: Chance, [a, b]: [Mono, Mono]): [Mono, Mono] => (chance.often(0.5) ? [a, b] : [b, a]);

/** Two microphones never meant as a pair, as near together as they come. */
export const closeMicrophones: Maker = (chance, frames) => {
  const kind = chance.pick([
    'hand-held and camera',
    'lavalier and boom',
    'side by side',
    'seldom',
    'silent guest',
  ] as const);
  const pattern = (): number => chance.pick([0, 0.5]);
  const mouth: Point = [0, 0, 1.2];
  const ahead = chance.between(0, 6.28);
  let scene: Scene;
  if (kind === 'hand-held and camera' || kind === 'lavalier and boom') {
    const near =
      kind === 'lavalier and boom'
        ? beside(mouth, 0.1, ahead, -chance.between(0.12, 0.22))
        : beside(mouth, chance.between(0.06, 0.25), ahead, -0.05);
    const far =
      kind === 'lavalier and boom'
        ? beside(mouth, chance.between(0.1, 0.5), ahead, chance.between(0.25, 0.6))
        : beside(mouth, chance.between(0.5, 1.4), ahead + chance.between(-0.4, 0.4), 0.1);
    scene = {
      sounds: [speech(chance, frames)],
      seats: [mouth],
      microphones: [
        { at: near, directivity: kind === 'lavalier and boom' ? 0 : pattern(), facing: ahead + Math.PI },
        { at: far, directivity: 0.5, facing: ahead + Math.PI },
      ],
      together: false,
    };
  } else {
    const apart = chance.between(0.55, 1.3);
    const across = ahead + Math.PI / 2 + chance.between(-0.4, 0.4);
    const seats = [mouth, beside(mouth, apart, across)];
    const [first, second] =
      kind === 'side by side'
        ? turns(chance, frames)
        : [speech(chance, frames), silentBut(chance, frames, kind === 'seldom' ? 0.05 : 0)];
    scene = {
      sounds: kind === 'silent guest' ? [first] : [first, second],
      seats: kind === 'silent guest' ? [mouth] : seats,
      microphones: seats.map((seat) => ({
        at: beside(seat, 0.12, ahead, -chance.between(0.12, 0.22)),
        directivity: 0,
        facing: ahead,
      })),
      together: chance.often(0.5),
    };
  }
  return {
    what: `two-mics: ${kind}`,
    verdict: 'two-mics',
    ownOnBoth: true,
    sides: onEitherSide(chance, recorded(chance, scene)),
  };
};

/** A voice that is heard for a share of the time, at one place. */
function silentBut(chance: Chance, frames: number, share: number): Mono {
  const length = Math.max(Math.round(share * frames), share > 0 ? RATE : 0);
  const start = chance.integer(0, frames - length);
  return speech(chance, frames).map((x, i) => (i >= start && i < start + length ? x : 0));
}

/** A pair on one stand or bar, up to one and a half metres wide, before people or players. */
export const pairOnABar: Maker = (chance, frames) => {
  const kind = chance.pick(['coincident', 'near-coincident', 'spaced', 'wide'] as const);
  const spacing = {
    coincident: 0,
    'near-coincident': chance.between(0.15, 0.3),
    spaced: chance.between(0.3, 0.8),
    wide: chance.between(0.8, 1.5),
  }[kind];
  const isOmni = spacing > 0.3 && chance.often(0.6);
  const half = spacing > 0.3 ? chance.between(0, 0.5) : chance.between(0.75, 1.1);
  const microphones: Microphone[] = [-1, 1].map((side) => ({
    at: [(side * spacing) / 2, 0, 1.4],
    directivity: isOmni ? 0 : 0.5,
    facing: Math.PI / 2 - side * half,
  }));
  const { people, sounds } = beforeAPair(chance, frames);
  const seats = sounds.map((_, i): Point => {
    const spread =
      sounds.length === 1
        ? chance.between(-0.6, 0.6)
        : -0.8 + (1.6 * i) / (sounds.length - 1) + chance.between(-0.15, 0.15);
    const metres = chance.between(Math.max(0.8, spacing), 2.5);
    return [metres * Math.sin(spread), metres * Math.cos(spread), 1.2];
  });
  return {
    what: `stereo: ${kind} bar, ${people}`,
    verdict: 'stereo',
    ownOnBoth: true,
    sides: recorded(chance, { sounds, seats, microphones, together: true }),
  };
};
