import { Chance } from '../synth/chance.ts';
import { LEAST_CONFIDENCE } from './boundaries.ts';
import { diffuseField } from '../synth/diffuseField.ts';
import { delayed } from '../synth/filters.ts';
import { drums, instrument } from '../synth/instruments.ts';
import { mix, RATE, silence, type Mono } from '../synth/mono.ts';
import { chatter, hiss } from '../synth/noise.ts';
import { heardBy, type Microphone, type Room } from '../synth/shoebox.ts';
import { inspect } from '../test/inspecting.ts';

const SECONDS = 6;
const ROOM: Room = { size: [6, 5, 2.8], reverberationSeconds: 0.3 };
const AT: Microphone['at'] = [3, 1, 1.4];
const AHEAD = Math.PI / 2;
const MIDDLE: Microphone = { at: AT, directivity: 0.5, facing: AHEAD };
const ACROSS: Microphone = { at: AT, directivity: 1, facing: AHEAD + Math.PI / 2 };

/** Two people by turns, this far to either hand (radians), as two microphones at one place hear them. */
function talk(
  seed: number,
  microphones: [Microphone, Microphone],
  hands: number[] = [-0.5, 0.5],
  room = ROOM,
): [Mono, Mono] {
  const chance = new Chance(seed);
  const sides: [Mono, Mono] = [silence(SECONDS * RATE), silence(SECONDS * RATE)];
  hands.forEach((hand, who) => {
    const voice = chatter(0.1, SECONDS, seed + 10 * who).map((x, i) =>
      Math.floor(i / (2 * RATE)) % hands.length === who ? x : 0,
    );
    const seat: Microphone['at'] = [AT[0] + 1.4 * Math.sin(hand), AT[1] + 1.4 * Math.cos(hand), 1.2];
    heardBy(chance, voice, seat, microphones, room).forEach((one, m) => {
      sides[m] = mix(sides[m], one);
    });
  });
  const place = diffuseField(chance, SECONDS * RATE, microphones);
  return sides.map((side, m) =>
    mix(
      side.map((x, i) => 0.3 * (x + 0.02 * place[m][i])),
      hiss(side.length, -82, seed + m),
    ),
  ) as [Mono, Mono];
}

test.each([1, 2])('middle and side that were never decoded are told, whichever channel is which (%i)', async (seed) => {
  const [middle, side] = talk(seed, [MIDDLE, ACROSS]);
  for (const [sides, names] of [
    [
      [middle, side],
      ['left', 'The left side holds the middle, the right side what is to either hand'],
    ],
    [
      [side, middle],
      ['right', 'The right side holds the middle, the left side what is to either hand'],
    ],
  ] as const) {
    const found = await inspect([...sides]);
    expect(found.verdict).toBe('stereo');
    expect(found.pairs[0].middle).toBe(names[0]);
    expect(found.suggestion.action).toBe('review');
    expect(found.suggestion.reason).toContain('left is middle plus side');
    expect(found.findings.find(({ code }) => code === 'mid-side')).toMatchObject({
      severity: 'look',
      channels: [1, 2],
    });
    expect(found.findings.find(({ code }) => code === 'mid-side')!.message).toContain(names[1]);
    expect(found.pairs[0].spoke[0]).toMatchObject({ says: 'mid-side' });
    // The middle is louder by nature.
    expect(Math.abs(found.pairs[0].balanceLu!)).toBeGreaterThan(1);
    expect(found.findings.map(({ code }) => code)).not.toContain('unbalanced');
    expect(found.headline).toBe('Middle and side, not left and right.');
  }
});

test('decoded, they are stereo and nothing more', async () => {
  const [middle, side] = talk(4, [MIDDLE, ACROSS]);
  const found = await inspect([middle.map((x, i) => x + side[i]), middle.map((x, i) => x - side[i])]);
  expect(found.verdict).toBe('stereo');
  expect(found.pairs[0].middle).toBeNull();
  expect(found.findings.map(({ code }) => code)).not.toContain('mid-side');
  expect(found.suggestion.action).toBe('none');
});

test('one person to one hand, whom the side hears upside down, is told from a pair of which one capsule is upside down', async () => {
  const [middle, side] = talk(5, [MIDDLE, ACROSS], [0.45]);
  expect((await inspect([middle, side])).pairs[0].middle).toBe('left');
  const pair = [-1, 1].map((hand) => ({ ...MIDDLE, facing: AHEAD - hand * 0.8 })) as [Microphone, Microphone];
  const [left, right] = talk(6, pair, [0.3]);
  const turned = await inspect([left, right.map((x) => -x)]);
  expect(turned.verdict).toBe('stereo');
  expect(turned.pairs[0].middle).toBeNull();
  expect(turned.pairs[0].confidence).toBeLessThan(LEAST_CONFIDENCE);
  expect(turned.headline).toBe('Stereo, but one side may be upside down.');
  expect(turned.cause).toContain('cable');
  expect(turned.suggestion).toMatchObject({ action: 'review' });
  expect(turned.suggestion.reason).toMatch(/^Turn one side over and listen/);
  expect((await inspect([left, right])).headline).toBe('Stereo, as it should be.');
});

test('a mix with its right side turned over asks for a person, and as it was it does not', async () => {
  const chance = new Chance(9);
  const parts = [instrument(chance, SECONDS * RATE), drums(chance, SECONDS * RATE), instrument(chance, SECONDS * RATE)];
  const [left, right] = [
    [0.8, 0.6, 0.5],
    [0.5, 0.6, 0.8],
  ].map((gains, side) =>
    mix(...parts.map((sound, i) => sound.map((x) => 0.3 * gains[i] * x)), hiss(SECONDS * RATE, -80, side)),
  );
  const turned = await inspect([left, right.map((x) => -x)]);
  expect([turned.verdict, turned.headline]).toEqual(['stereo', 'Stereo, but one side may be upside down.']);
  expect(turned.suggestion.action).toBe('review');
  expect(turned.pairs[0].spoke[0]).toMatchObject({ says: 'upside-down' });
  expect(turned.pairs[0].spoke[0].strength).toBeGreaterThan(1);
  const asItWas = await inspect([left, right]);
  expect([asItWas.headline, asItWas.suggestion.action]).toEqual(['Stereo, as it should be.', 'none']);
  expect(asItWas.pairs[0].spoke.map(({ says }) => says)).not.toContain('upside-down');
});

test('what lies 12 dB to one hand all the time is no pair as it should be: it may be middle and side, and a person looks', async () => {
  const chance = new Chance(12);
  const parts = [drums(chance, SECONDS * RATE), instrument(chance, SECONDS * RATE), instrument(chance, SECONDS * RATE)];
  const side = (gains: number[], seed: number): Mono =>
    mix(...parts.map((sound, i) => sound.map((x) => 0.3 * gains[i] * x)), hiss(SECONDS * RATE, -85, seed));
  const found = await inspect([side([1, 0.9, 1], 1), side([0.3, 0.02, 0.15], 2)]);
  expect([found.verdict, found.pairs[0].middle, found.suggestion.action]).toEqual(['stereo', 'left', 'review']);
  expect(found.pairs[0].spoke[0].message).toMatch(/^All that is heard is louder on one side/);
});

test('a coincident pair, an inch or none apart, turns nothing', async () => {
  for (const seed of [7, 8]) {
    const pair = [-1, 1].map((hand) => ({
      ...MIDDLE,
      at: [AT[0] + hand * 0.012 * (seed - 7), AT[1], AT[2]],
      facing: AHEAD - hand * 0.8,
    })) as [Microphone, Microphone];
    const found = await inspect(talk(seed, pair));
    expect([found.verdict, found.pairs[0].middle]).toEqual(['stereo', null]);
  }
});

test.each([23, 24])(
  'a mix kept as sum and difference is told though most of it is from one hand (%i)',
  async (seed) => {
    const parts = [0.3, 0.35, 0.42, 0.62].map((pan, i) => ({
      angle: (pan * Math.PI) / 2,
      sound: (i === 2 ? drums : instrument)(new Chance(seed + 100 * i), SECONDS * RATE).map(
        (x) => x * [1, 0.8, 1, 0.6][i],
      ),
    }));
    const channel = (gain: (angle: number) => number, noise: number): Mono =>
      mix(
        ...parts.map(({ angle, sound }) => sound.map((x) => 0.3 * x * gain(angle))),
        hiss(SECONDS * RATE, -80, noise),
      );
    const [left, right] = [channel(Math.cos, 1), channel(Math.sin, 2)];
    const asMixed = await inspect([left, right]);
    expect([asMixed.verdict, asMixed.pairs[0].middle]).toEqual(['stereo', null]);
    // A side that was turned over is no side of a middle: neither is softer for it.
    expect((await inspect([left, right.map((x) => -x)])).pairs[0].middle).toBeNull();
    const split = await inspect([left.map((x, i) => (x + right[i]) / 2), left.map((x, i) => (x - right[i]) / 2)]);
    expect([split.verdict, split.pairs[0].middle, split.suggestion.action]).toEqual(['stereo', 'left', 'review']);
  },
);

test('a side that hears the room alone may be that of a middle: a person is told so and looks', async () => {
  const live = { ...ROOM, reverberationSeconds: 0.6 };
  const [middle, side] = talk(31, [MIDDLE, ACROSS], [0.15], live);
  const found = await inspect([middle, side]);
  expect([found.verdict, found.pairs[0].middle]).toEqual(['stereo', 'left']);
  expect(found.pairs[0].confidence).toBeLessThan(LEAST_CONFIDENCE);
  expect(found.headline).toBe('Perhaps middle and side, not left and right.');
  expect(found.findings.find(({ code }) => code === 'mid-side')!.message).toContain('may hold the middle');
  expect(found.suggestion).toMatchObject({ action: 'review' });
  expect(found.suggestion.reason).toContain('If it is middle and side');
  // Should it be a pair after all, one side of it is too soft.
  expect(found.findings.map(({ code }) => code)).toContain('unbalanced');
  expect(found.pairs[0].spoke[0]).toMatchObject({ says: 'mid-side' });
  // A pair that was set alike is as loud on both sides, however little of it can be placed.
  const apart = [-1, 1].map((hand) => ({ ...MIDDLE, directivity: 0, at: [AT[0] + 0.4 * hand, AT[1], AT[2]] }));
  expect((await inspect(talk(32, apart as [Microphone, Microphone], [0.15], live))).pairs[0].middle).toBeNull();
});

test('one person to one hand, upright on both, may be middle and side: they agree on too little for a pair that leans so far', async () => {
  const [middle, side] = talk(42, [MIDDLE, ACROSS], [-0.45]);
  const found = await inspect([middle, side]);
  expect([found.verdict, found.pairs[0].middle, found.suggestion.action]).toEqual(['stereo', 'left', 'review']);
  expect(found.pairs[0].confidence).toBeLessThan(LEAST_CONFIDENCE);
  expect(found.pairs[0].spoke[0]).toMatchObject({ says: 'mid-side' });
  expect(found.pairs[0].spoke[0].message).toContain('what leans so far in a pair comes from one place');
  // A pair with the same person to the same hand leans as well.
  const pair = [-1, 1].map((hand) => ({ ...MIDDLE, facing: AHEAD - hand * 0.9 })) as [Microphone, Microphone];
  const leaning = await inspect(talk(42, pair, [-0.55]));
  expect(Math.abs(leaning.pairs[0].balanceLu!)).toBeGreaterThan(2.5);
  expect([leaning.verdict, leaning.pairs[0].middle]).toEqual(['stereo', null]);
});

test.each([
  [51, 0.15],
  [53, 0.3],
])(
  'with a person ahead the side of a middle hears the walls to either hand, one of them upside down: no microphone further off does (%i)',
  async (seed, reverberationSeconds) => {
    const room: Room = { size: [5.2, 5, 2.8], reverberationSeconds };
    const [middle, side] = talk(seed, [MIDDLE, ACROSS], [0, 0.02], room);
    const found = await inspect([side, middle]);
    expect([found.verdict, found.pairs[0].middle, found.suggestion.action]).toEqual(['stereo', 'right', 'review']);
    expect(found.pairs[0].confidence).toBeLessThan(LEAST_CONFIDENCE);
    const near = { ...MIDDLE, at: [AT[0], AT[1] + 1.1, 1.2] } as Microphone;
    const far = { ...MIDDLE, at: [AT[0], AT[1] - 0.6, AT[2]] } as Microphone;
    const apart = talk(seed, [near, far], [0, 0.02], room);
    expect((await inspect(apart)).verdict).toBe('two-mics');
    // What the other arrival was looked for beside had another rate than what it was looked for in.
    expect((await inspect(apart.map(atDoubleRate), 2 * RATE)).verdict).toBe('two-mics');
  },
);

function atDoubleRate(sound: Mono): Mono {
  const between = delayed(sound, -0.5);
  return Float64Array.from({ length: 2 * sound.length }, (_, i) => (i % 2 === 0 ? sound : between)[i >> 1]);
}

test.each([
  [-0.6, 0.15],
  [-0.8, 0.3],
])(
  'one person upright may be middle and side by what dies away: softer on the side, and not the same (to %f, in %f s)',
  async (hand, reverberationSeconds) => {
    const room = { ...ROOM, reverberationSeconds };
    const [middle, side] = talk(61, [MIDDLE, ACROSS], [hand], room);
    const found = await inspect([middle, side]);
    expect([found.verdict, found.pairs[0].middle, found.suggestion.action]).toEqual(['stereo', 'left', 'review']);
    expect(found.pairs[0].confidence).toBeLessThan(LEAST_CONFIDENCE);
    expect(found.pairs[0].spoke[0].message).toMatch(/^What speech leaves in the room is .* softer on one side/);
    const pair = [-1, 1].map((one) => ({ ...MIDDLE, facing: AHEAD - one * 0.9 })) as [Microphone, Microphone];
    const leaning = await inspect(talk(61, pair, [hand], room));
    expect([leaning.verdict, leaning.pairs[0].middle]).toEqual(['stereo', null]);
  },
);
