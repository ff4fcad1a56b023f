import { mix, spoken, type Mono } from '@pocket-twin/core/synth/mono.ts';
import { hiss } from '@pocket-twin/core/synth/noise.ts';
import { heardBy, randomRoom, type Microphone } from '@pocket-twin/core/synth/shoebox.ts';
import type { Chance } from '@pocket-twin/core/synth/chance.ts';
import type { Maker } from './case.ts';
import { beside } from './fields.ts';
import { maybeCoded, preamp, withNoise } from './inputs.ts';
import { beforeAPair, speech, turns } from './sources.ts';

// Microphones in rooms, of the first material.

export const somewhere = (chance: Chance, size: readonly number[]): [number, number, number] => [
  chance.between(0.8, size[0] - 0.8),
  chance.between(0.8, size[1] - 0.8),
  chance.between(0.9, 1.4),
];
/** A microphone for each of two talkers: each close to its own, the other coming in 10 to 25 dB below. */
export const twoTalkers: Maker = (chance, frames) => {
  const room = randomRoom(chance);
  const people = turns(chance, frames);
  const first = somewhere(chance, room.size);
  const angle = chance.between(0, 6.28);
  const distance = chance.between(0.9, 2.2);
  const seats = [first, beside(first, distance, angle)];
  const microphones: Microphone[] = seats.map((seat, i) => ({
    at: beside(
      seat,
      chance.between(0.12, 0.3),
      angle + (i === 0 ? chance.between(-1, 1) : Math.PI + chance.between(-1, 1)),
    ),
    directivity: chance.pick([0, 0.5]),
    facing: angle + (i === 0 ? Math.PI : 0),
  }));
  const heard = people.map((person, i) => heardBy(chance, person, seats[i], microphones, room));
  const sides = [0, 1].map((m) => spoken(mix(heard[0][m], heard[1][m]), -22 + chance.between(-5, 5))) as [Mono, Mono];
  return { what: 'two-mics: two talkers', verdict: 'two-mics', sides: withNoise(chance, sides) };
};

export const nearAndFar: Maker = (chance, frames) => {
  const room = randomRoom(chance);
  const seat = somewhere(chance, room.size);
  const angle = chance.between(0, 6.28);
  const far = beside(seat, chance.between(1.2, 3), angle + chance.between(-1, 1));
  // Outside the walls there is no room to hear: another place then.
  if (far.some((x, axis) => x < 0.15 || x > room.size[axis] - 0.15)) return nearAndFar(chance, frames);
  const microphones: Microphone[] = [
    {
      at: beside(seat, chance.between(0.15, 0.35), angle),
      directivity: chance.pick([0, 0.5]),
      facing: angle + Math.PI,
    },
    { at: far, directivity: chance.pick([0, 0.5]), facing: angle + Math.PI },
  ];
  const heard = heardBy(chance, speech(chance, frames), seat, microphones, room);
  const sides = [spoken(heard[0], -20), spoken(heard[1], -20 - chance.between(0, 14))] as [Mono, Mono];
  const noisy: [Mono, Mono] = [
    mix(sides[0], hiss(frames, preamp(chance), chance.seed())),
    mix(sides[1], hiss(frames, preamp(chance), chance.seed())),
  ];
  return {
    what: 'two-mics: near and far',
    verdict: 'two-mics',
    sides: chance.often(0.5) ? noisy : [noisy[1], noisy[0]],
  };
};

/** A coincident, near-coincident or spaced pair in a room, some way from one or two talkers or players. */
export const pairInRoom: Maker = (chance, frames) => {
  const room = randomRoom(chance);
  const middle: [number, number, number] = [
    room.size[0] / 2 + chance.between(-0.5, 0.5),
    0.7,
    chance.between(1.1, 1.7),
  ];
  const kind = chance.pick(['coincident', 'near-coincident', 'spaced'] as const);
  const spacing = { coincident: 0, 'near-coincident': 0.17, spaced: chance.between(0.25, 0.7) }[kind];
  const half = kind === 'spaced' ? 0 : chance.between(0.75, 1.1);
  const microphones: Microphone[] = [-1, 1].map((side) => ({
    at: [middle[0] + (side * spacing) / 2, middle[1], middle[2]],
    directivity: kind === 'spaced' ? 0 : 0.5,
    facing: Math.PI / 2 - side * half,
  }));
  const { people, sounds } = beforeAPair(chance, frames);
  const distance = Math.min(room.size[1] - 1.2, chance.between(0.8, 2.5));
  const sides: [Mono, Mono] = [new Float64Array(frames), new Float64Array(frames)];
  sounds.forEach((sound, i) => {
    const spread =
      sounds.length === 1
        ? chance.between(-0.7, 0.7)
        : -0.8 + (1.6 * i) / (sounds.length - 1) + chance.between(-0.15, 0.15);
    const heard = heardBy(
      chance,
      sound,
      [middle[0] + distance * Math.sin(spread), middle[1] + distance * Math.cos(spread), 1.2],
      microphones,
      room,
    );
    heard.forEach((one, m) => {
      sides[m] = mix(sides[m], one);
    });
  });
  const level = 10 ** (-20 / 20) / Math.sqrt(sides[0].reduce((sum, x) => sum + x * x, 0) / frames);
  const noisy = withNoise(chance, sides.map((side) => side.map((x) => x * level * 0.5)) as [Mono, Mono]);
  const coded = maybeCoded(chance, noisy, 0.15);
  return { what: `stereo: ${kind}, ${people}${coded.coded}`, verdict: 'stereo', sides: coded.sides };
};
