import { Chance } from '../synth/chance.ts';
import { diffuseField } from '../synth/diffuseField.ts';
import { mix, RATE, spoken, type Mono } from '../synth/mono.ts';
import { chatter, hiss } from '../synth/noise.ts';
import { heardBy, type Microphone, type Room } from '../synth/shoebox.ts';
import { inspect } from '../test/inspecting.ts';

// One talker in a room, by two microphones that are a pair or are not: told by what the room and the distances leave, not by how far apart they are.

const SECONDS = 7;
const ROOM: Room = { size: [5, 4.4, 2.7], reverberationSeconds: 0.35 };
const MOUTH: Microphone['at'] = [2.5, 2.2, 1.2];
const facing = (at: Microphone['at'], directivity = 0): Microphone => ({ at, directivity, facing: Math.PI });

test('an arm’s length is nearer than any pair stands, though both inputs hiss alike and nothing of the place is heard', async () => {
  const microphones = [facing([2.65, 2.2, 1.1]), facing([2.9, 2.2, 1.45])] as [Microphone, Microphone];
  for (const seed of [1, 2, 3]) {
    const chance = new Chance(seed);
    const voice = chatter(0.1, SECONDS, seed + 1).map((x, i) => (i > 3 * RATE && i < 4 * RATE ? 0 : x));
    const found = await inspect(
      heardBy(chance, voice, MOUTH, microphones, ROOM).map((side, m) =>
        mix(spoken(side, -20), hiss(side.length, -62, seed + m)),
      ) as [Mono, Mono],
    );
    expect(found.verdict).toBe('two-mics');
    expect(found.suggestion.action).not.toBe('none');
    expect(found.pairs[0].spoke[0].message).toMatch(
      /further over the sound of the room there, so that microphone is about 0\.[2-6] m from who speaks/,
    );
  }
});

/** What both hear of the talker and of the place, each input set by itself or both together. */
function heard(seed: number, microphones: [Microphone, Microphone], together: boolean): [Mono, Mono] {
  const chance = new Chance(seed);
  // With a breath in which the place is heard.
  const voice = chatter(0.1, SECONDS, seed + 1).map((x, i) => (i > 3 * RATE && i < 4 * RATE ? 0 : x));
  const sides = heardBy(chance, voice, MOUTH, microphones, ROOM);
  const place = diffuseField(chance, voice.length, microphones);
  const noisy = sides.map((side, m) => side.map((x, i) => x + 0.06 * place[m][i]));
  return noisy.map((side, m) =>
    mix(together ? side.map((x) => 0.3 * x) : spoken(side, m === 0 ? -20 : -24), hiss(side.length, -80, seed + m)),
  ) as [Mono, Mono];
}

test.each([1, 2, 3, 4])(
  'a microphone on the chest and one over the head are two microphones, for one talker (%i)',
  async (seed) => {
    const found = await inspect(heard(seed, [facing([2.62, 2.2, 1.03]), facing([2.8, 2.2, 1.75], 0.25)], false));
    expect(found.verdict).toBe('two-mics');
    expect(found.pairs[0].talkers).toBe(1);
    expect(found.detail).toMatch(/ms later.*: one talker, near and far\.$/);
    // They stand a quarter to half a metre apart, as sound goes.
    const ms = Math.abs(found.pairs[0].delaySamples) / 48;
    expect(ms).toBeGreaterThan(0.8);
    expect(ms).toBeLessThan(1.6);
  },
);

test.each([1, 2, 3, 4])(
  'a pair on one bar of 1.4 m is stereo, though it hears the talker 3 ms apart (%i)',
  async (seed) => {
    const across = (y: number): Microphone => facing([3.9, y, 1.4]);
    const found = await inspect(heard(seed, [across(0.4), across(1.8)], true));
    expect(found.verdict).toBe('stereo');
    expect(found.suggestion.action).not.toBe('split');
  },
);

test('a narrow bar before one talker is stereo, and confidence says that two microphones a hand apart would hardly sound different', async () => {
  for (const seed of [5, 6]) {
    const found = await inspect(heard(seed, [facing([3.6, 1.5, 1.4]), facing([3.6, 1.95, 1.4])], true));
    expect(found.verdict).toBe('stereo');
    expect(found.pairs[0].confidence).toBeGreaterThanOrEqual(0.8);
    expect(found.pairs[0].confidence).toBeLessThan(0.98);
  }
});

test('a coincident pair that hears its talker at one side is stereo: louder there, and at the same time', async () => {
  for (const seed of [1, 2]) {
    const at: Microphone['at'] = [3.6, 1.4, 1.4];
    const found = await inspect(
      heard(
        seed,
        [-1, 1].map((side) => ({ at, directivity: 0.5, facing: Math.PI + side * 0.9 })) as [Microphone, Microphone],
        true,
      ),
    );
    expect(found.verdict).toBe('stereo');
  }
});

/** Two people who take turns, the first of them for longer, each at a place of their own. */
function heardByTurns(
  seed: number,
  seats: [Microphone['at'], Microphone['at']],
  microphones: [Microphone, Microphone],
  isPair: boolean,
): [Mono, Mono] {
  const chance = new Chance(seed);
  const length = 9 * RATE;
  const speaks = (i: number): number => (i % (3 * RATE) < 1.7 * RATE ? 0 : i % (3 * RATE) < 2.7 * RATE ? 1 : 2);
  const place = diffuseField(chance, length, microphones);
  const sides = seats
    .map((seat, talker) => {
      const voice = chatter(0.1, 9, seed + talker).map((x, i) => (speaks(i) === talker ? x : 0));
      return heardBy(chance, voice, seat, microphones, ROOM);
    })
    .reduce(([left, right], [more, other]) => [mix(left, more), mix(right, other)]);
  return sides.map((side, m) =>
    mix(
      side.map((x, i) => (isPair ? 0.3 : 0.1) * (x + 0.004 * place[m][i])),
      hiss(length, -80, seed + m),
    ),
  ) as [Mono, Mono];
}

const AHEAD = Math.PI / 2;

test.each([
  ['cardioids 27 cm apart', 0.27, 0.5, 0.9, 1.2],
  ['cardioids 17 cm apart', 0.17, 0.5, 1, 1.2],
  ['omnidirectional capsules 1.3 m apart', 1.3, 0, 0, 1.7],
])(
  'a pair of %s before two people is stereo, however unequally they speak',
  async (_, spacing, directivity, turned, metres) => {
    for (const seed of [11, 12]) {
      const microphones = [-1, 1].map((side) => ({
        at: [2.5 + (side * spacing) / 2, 0.8, 1.4],
        directivity,
        facing: AHEAD - side * turned,
      })) as [Microphone, Microphone];
      const seats = [-0.8, 0.8].map((angle) => [
        2.5 + metres * Math.sin(angle),
        0.8 + metres * Math.cos(angle),
        1.2,
      ]) as [Microphone['at'], Microphone['at']];
      const found = await inspect(heardByTurns(seed, seats, microphones, true));
      expect(found.verdict).toBe('stereo');
      expect(found.suggestion.action).not.toBe('split');
    }
  },
);

test('two people side by side with a microphone on each chest are two microphones', async () => {
  for (const seed of [11, 12, 13]) {
    const seats = [2.1, 2.9].map((x) => [x, 2.2, 1.2]) as [Microphone['at'], Microphone['at']];
    const microphones = seats.map(([x]) => ({ at: [x, 2.08, 1.03], directivity: 0, facing: AHEAD })) as [
      Microphone,
      Microphone,
    ];
    const found = await inspect(heardByTurns(seed, seats, microphones, false));
    expect(found.verdict).toBe('two-mics');
    expect(found.pairs[0].talkers).toBe(2);
  }
});

test('a wide pair far from two people in a room that lives is stereo: its sides share next to nothing, but hear both as loud', async () => {
  const hall: Room = { size: [8, 6.5, 3.2], reverberationSeconds: 1.3 };
  const microphones = [3.3, 4.7].map((x) => ({ at: [x, 1.2, 1.6], directivity: 0, facing: 0 })) as [
    Microphone,
    Microphone,
  ];
  for (const seed of [1, 2, 3]) {
    const chance = new Chance(seed);
    const [one, other] = [
      [2.2, 5.4, 1.4],
      [6, 5.6, 1.4],
    ].map((at, talker) =>
      heardBy(chance, chatter(0.1, 9, 10 * seed + talker), at as Microphone['at'], microphones, hall),
    );
    const sides = one.map((side, m) => mix(spoken(mix(side, other[m]), -20), hiss(side.length, -75, seed + m)));
    const found = await inspect(sides);
    expect(found.verdict).toBe('stereo');
    expect(found.pairs[0].confidence).toBeGreaterThan(0.85);
    // Two people who talk at once, each on a microphone that hears nothing of the other, are no pair.
    const apart = await inspect([0, 1].map((m) => mix(chatter(0.1, 9, 10 * seed + m), hiss(9 * RATE, -60, seed + m))));
    expect(apart.verdict).toBe('two-mics');
  }
});
