import { passFilter } from '../signal/biquad.ts';
import { Chance } from '../synth/chance.ts';
import { filtered, lowPassed, shelf } from '../synth/filters.ts';
import { gain, later, mix, RATE, spoken, type Mono } from '../synth/mono.ts';
import { chatter, hiss, noise } from '../synth/noise.ts';
import { heardBy, type Microphone } from '../synth/shoebox.ts';
import { inspect } from '../test/inspecting.ts';

// Two microphones a hand or two from one mouth, in places so dry that one side is nearly the other, later.

const SECONDS = 8;
const voice = lowPassed(chatter(0.1, SECONDS, 4));
const withOwnNoise = (sides: Mono[]): Mono[] => sides.map((side, s) => mix(side, hiss(side.length, -72, 60 + s)));

function heard(
  seed: number,
  reverberationSeconds: number,
  nearMetres: number,
  farMetres: number,
  said = voice,
): Mono[] {
  const mouth: Microphone['at'] = [2.6, 2.1, 1.2];
  const at = (metres: number, rise: number): Microphone['at'] => [mouth[0] + metres, mouth[1] + 0.05, mouth[2] + rise];
  const microphones = [
    { at: at(nearMetres, -0.1), directivity: 0, facing: Math.PI },
    { at: at(farMetres, 0.25), directivity: 0.5, facing: Math.PI },
  ];
  const room = { size: [5.3, 4.4, 2.7] as Microphone['at'], reverberationSeconds };
  return withOwnNoise(heardBy(new Chance(seed), said, mouth, microphones, room).map((side) => spoken(side, -22)));
}

test.each([
  { reverberationSeconds: 0.13, nearMetres: 0.12, farMetres: 0.4 },
  { reverberationSeconds: 0.13, nearMetres: 0.2, farMetres: 0.75 },
  { reverberationSeconds: 0.16, nearMetres: 0.15, farMetres: 0.55 },
])(
  'microphones at $nearMetres and $farMetres m in a room of $reverberationSeconds s are no copies, and neither is thrown away',
  async ({ reverberationSeconds, nearMetres, farMetres }) => {
    const found = await inspect(heard(3, reverberationSeconds, nearMetres, farMetres));
    const [pair] = found.pairs;
    // As near to one signal as a disguise comes.
    expect(pair.matchedNullDepthDb).toBeLessThan(-17);
    expect(pair.verdict).not.toBe('fake-stereo');
    expect(['none', 'split', 'review']).toContain(found.suggestion.action);
  },
);

// A voice that holds its pitch, under hissed consonants: a room foretells the one, and not the other.
function held(): Mono {
  const low = [passFilter('low-pass', 500, 0.7, RATE), passFilter('low-pass', 700, 0.7, RATE)];
  const high = passFilter('high-pass', 2500, 0.7, RATE);
  const syllable = (i: number): number => (i / RATE) % 0.4;
  const pulses = new Float64Array(SECONDS * RATE).map((_, i) => (i % 400 === 0 && syllable(i) < 0.25 ? 1 : 0));
  const hisses = noise(0.02, SECONDS, 8).map((x, i) => (syllable(i) > 0.24 && syllable(i) < 0.3 ? x : 0));
  const vowels = low.reduce<Mono>((sound, section) => filtered(sound, section), pulses);
  return mix(vowels, gain(filtered(hisses, high), -6)).map((x, i) => (i % (2 * RATE) < 1.6 * RATE ? x : 0));
}

test.each([
  { nearMetres: 0.2, farMetres: 0.55, reverberationSeconds: 0.22 },
  { nearMetres: 0.22, farMetres: 0.65, reverberationSeconds: 0.2 },
])(
  'a room in which a voice holds its pitch is no coder ($nearMetres and $farMetres m)',
  async ({ nearMetres, farMetres, reverberationSeconds }) => {
    const found = await inspect(heard(5, reverberationSeconds, nearMetres, farMetres, held()));
    const [pair] = found.pairs;
    expect(pair.verdict).toBe('two-mics');
    expect(['split', 'review']).toContain(found.suggestion.action);
  },
);

test('where it nulls like a disguise it is said why it is none, and a person decides', async () => {
  const found = await inspect(heard(3, 0.13, 0.12, 0.4));
  const [pair] = found.pairs;
  expect(pair.matchedNullDepthDb).toBeLessThan(-20);
  expect(pair.verdict).toBe('two-mics');
  expect(pair.spoke[0].message).toContain('as a room leaves it between two close microphones');
  expect(found.suggestion.action).toBe('review');
});

test.each([0.05, 0.08])(
  'a duller microphone that comes later in a place all but dead (%f s) nulls as no room lets it, and is not left out unheard',
  async (reverberationSeconds) => {
    const [near, far] = heard(3, reverberationSeconds, 0.12, 0.42);
    const found = await inspect([near, filtered(far, shelf(-7, 1500))]);
    const [pair] = found.pairs;
    expect(pair.matchedNullDepthDb).toBeLessThan(-32);
    expect(pair).toMatchObject({ verdict: 'fake-stereo', disguise: ['delay', 'filter'] });
    expect(found.suggestion.action).toBe('review');
  },
);

test.each([
  { x: 2.83, z: 1.15, reverberationSeconds: 0.2 },
  { x: 2.83, z: 1.15, reverberationSeconds: 0.13 },
  { x: 2.8, z: 1.2, reverberationSeconds: 0.13 },
  { x: 2.85, z: 1.3, reverberationSeconds: 0.13 },
])(
  'two microphones a hand apart are not thrown away for the other one’s whole peaks ($x, $z m, $reverberationSeconds s)',
  async ({ x, z, reverberationSeconds }) => {
    const mouth: Microphone['at'] = [2.6, 2.1, 1.2];
    const microphones = [
      { at: [2.72, 2.15, 1.1] as Microphone['at'], directivity: 0, facing: Math.PI },
      { at: [x, 2.15, z] as Microphone['at'], directivity: 0.5, facing: Math.PI },
    ];
    const room = { size: [5.3, 4.4, 2.7] as Microphone['at'], reverberationSeconds };
    const [near, far] = heardBy(new Chance(3), voice, mouth, microphones, room).map((side) => spoken(side, -22));
    const loudest = near.reduce((most, one) => Math.max(most, Math.abs(one)), 0);
    const [left, right] = withOwnNoise([near.map((one) => (1.25 * one) / loudest), far]);
    const found = await inspect([left.map((one) => Math.max(-1, Math.min(1, one))), right]);
    expect(found.findings.map(({ code }) => code)).toContain('clipped');
    expect(found.suggestion.action).toBe('review');
  },
);

test.each([
  { what: 'later', other: later(voice, 52) },
  { what: 'later and softer', other: gain(later(voice, 52), -7) },
  { what: 'later and without treble', other: filtered(later(voice, 70), shelf(-9, 1200)) },
])('a copy that is $what nulls deeper than any room lets it, and stays one signal', async ({ other }) => {
  const found = await inspect(withOwnNoise([voice, other]));
  expect(found.verdict).toBe('fake-stereo');
  expect(found.pairs[0].confidence).toBeGreaterThan(0.9);
});

test('a delay that jumps under noise that leaves no deep null is a copy still, and left to a person', async () => {
  const jumping = voice.map((_, i) => voice[i - (i < 3.3 * RATE ? 60 : 410)] ?? 0);
  const loud = [voice, gain(jumping, -4)].map((side, s) => {
    const random = lowPassed(hiss(side.length, 0, 70 + s));
    // It follows the sound, as a coder's does, and vanishes in its pauses.
    return mix(
      side.map((x, i) => x * (1 + 0.42 * random[i])),
      hiss(side.length, -80, 80 + s),
    );
  });
  const found = await inspect(loud);
  const [pair] = found.pairs;
  expect(pair.matchedNullDepthDb).toBeGreaterThan(-20);
  expect(pair).toMatchObject({ verdict: 'fake-stereo', disguise: ['level', 'delay'] });
  expect(pair.jump!.delaySamples).toBeCloseTo(350, 0);
  expect(Math.abs(pair.jump!.atSeconds - 3.3)).toBeLessThan(0.02);
  expect(found.suggestion.action).toBe('review');
});

/** As over a telephone. */
const telephone = (sound: Mono): Mono =>
  [
    passFilter('high-pass', 300, 0.9, RATE),
    passFilter('high-pass', 300, 0.9, RATE),
    passFilter('low-pass', 3000, 0.9, RATE),
    passFilter('low-pass', 3000, 0.9, RATE),
  ].reduce(filtered, sound);

test.each([0.3, 0.4])(
  'a copy as over a telephone, under the noise of a coder (%f), is a copy, and left to a person',
  async (share) => {
    const sides = [voice, telephone(voice)].map((side, s) => {
      const random = hiss(side.length, 0, 90 + s);
      return mix(
        side.map((x, i) => x * (1 + share * random[i])),
        hiss(side.length, -80, 95 + s),
      );
    });
    const found = await inspect(sides);
    const [pair] = found.pairs;
    expect(pair.matchedNullDepthDb).toBeGreaterThan(-20);
    expect(pair).toMatchObject({ verdict: 'fake-stereo', disguise: ['filter'], narrower: { side: 'right' } });
    expect(pair.spoke[0].message).toContain('holds nothing but a band of the other');
    expect(found.suggestion.action).toBe('review');
  },
);

test.each([
  { reverberationSeconds: 0.13, nearMetres: 0.2, farMetres: 0.75 },
  { reverberationSeconds: 0.16, nearMetres: 0.15, farMetres: 0.55 },
  { reverberationSeconds: 0.25, nearMetres: 0.15, farMetres: 0.4 },
])(
  'the further of two microphones on a poor line is never thrown away ($nearMetres and $farMetres m, $reverberationSeconds s)',
  async ({ reverberationSeconds, nearMetres, farMetres }) => {
    const [near, far] = heard(3, reverberationSeconds, nearMetres, farMetres);
    const found = await inspect([near, telephone(far)]);
    expect(['none', 'split', 'review']).toContain(found.suggestion.action);
  },
);
