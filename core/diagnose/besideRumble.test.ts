import { Chance } from '../synth/chance.ts';
import { delayed } from '../synth/filters.ts';
import { gain, mix, RATE, type Mono } from '../synth/mono.ts';
import { chatter, hiss, noise } from '../synth/noise.ts';
import { heardBy, type Microphone, type Room } from '../synth/shoebox.ts';
import { inspect } from '../test/inspecting.ts';

// What nobody hears or what comes by cable changes no verdict: converters that stand off nought, steps on the floor, hum.

const SECONDS = 8;
const FRAMES = SECONDS * RATE;
const VOICE = gain(chatter(0.1, SECONDS, 4), -6);
const floors = (sides: [Mono, Mono], db = -80): [Mono, Mono] => [
  mix(sides[0], hiss(FRAMES, db, 31)),
  mix(sides[1], hiss(FRAMES, db, 32)),
];

/** Slower than 15 Hz, by four poles. */
function rumble(db: number, seed: number): Mono {
  const share = 1 - Math.exp((-2 * Math.PI * 15) / RATE);
  const state = [0, 0, 0, 0];
  const slow = noise(1, SECONDS, seed).map((x) => {
    let value = x;
    for (let k = 0; k < state.length; k++) value = state[k] += share * (value - state[k]);
    return value;
  });
  const power = slow.reduce((sum, x) => sum + x * x, 0) / slow.length;
  return slow.map((x) => (x * 10 ** (db / 20)) / Math.sqrt(power));
}

const BESIDE: [string, (sides: [Mono, Mono]) => [Mono, Mono]][] = [
  ['one side that stands off nought', ([left, right]) => [left, right.map((x) => x + 0.02)]],
  ['both that do, each its own way', ([left, right]) => [left.map((x) => x - 0.01), right.map((x) => x + 0.015)]],
  ['rumble on one side', ([left, right]) => [mix(left, rumble(-36, 5)), right]],
  ['rumble on both, each its own', ([left, right]) => [mix(left, rumble(-36, 5)), mix(right, rumble(-33, 6))]],
  [
    'a swing of a few Hz',
    ([left, right]) => [left, right.map((x, i) => x + 0.03 * Math.sin((2 * Math.PI * 3 * i) / RATE))],
  ],
];

describe.each(BESIDE)('beside %s', (_, beside) => {
  test('one voice on both sides is dual mono', async () => {
    expect(await inspect(beside(floors([VOICE, VOICE])))).toMatchObject({ verdict: 'dual-mono' });
  });

  test('a delay is undone to the sample', async () => {
    const found = await inspect(beside(floors([VOICE, gain(delayed(VOICE, 131), -4)])));
    expect(found.verdict).toBe('fake-stereo');
    expect(found.pairs[0].delaySamples).toBeCloseTo(131, 0);
    expect(found.pairs[0].gainDb).toBeCloseTo(-4, 0);
  });

  test('two people who hear nothing of each other are two microphones, and neither is thrown away', async () => {
    const found = await inspect(beside(floors([VOICE, gain(chatter(0.1, SECONDS, 9), -6)], -60)));
    expect(found).toMatchObject({ verdict: 'two-mics', suggestion: { action: 'split' } });
  });

  test('one side alone is one side alone', async () => {
    const found = await inspect(beside(floors([VOICE, new Float64Array(FRAMES)])));
    expect(found).toMatchObject({ verdict: 'one-sided', suggestion: { action: 'fill', from: 1 } });
  });
});

test('of a side that drops out while it stands off nought or rumbles, each loss is told', async () => {
  const starts = [0.4, 3.3, 6.4];
  const holed = VOICE.map((x, i) => (starts.some((start) => i >= start * RATE && i < (start + 0.5) * RATE) ? 0 : x));
  for (const [, beside] of BESIDE) {
    const found = await inspect(beside(floors([VOICE, holed], -70)));
    expect(found.verdict).toBe('dual-mono');
    const dropouts = found.findings.filter(({ code }) => code === 'dropout');
    expect(dropouts).toHaveLength(starts.length);
    for (const [i, { startSeconds }] of dropouts.entries())
      expect(Math.abs(startSeconds - starts[i])).toBeLessThan(0.1);
    expect(found.suggestion).toMatchObject({ action: 'fill', from: 1 });
  }
});

test('among many channels copies and mixes are told beside it', async () => {
  const [one, two] = floors([VOICE, gain(chatter(0.1, SECONDS, 9), -6)]);
  for (const [, beside] of BESIDE) {
    const [a, copy] = beside([one, gain(one, -5)]);
    expect((await inspect([a, two, copy])).duplicates).toEqual([[1, 3]]);
    const [b, sum] = beside([one, mix(gain(one, -2), gain(two, -4))]);
    expect((await inspect([b, two, sum])).mixes).toEqual([{ channel: 3, of: [1, 2] }]);
  }
});

const ROOM: Room = { size: [6, 5, 2.8], reverberationSeconds: 0.4 };

test('hum on one side of a spaced pair does not make it two microphones', async () => {
  const chance = new Chance(3);
  const microphones = [2.85, 3.15].map((x): Microphone => ({ at: [x, 1, 1.4], directivity: 1, facing: Math.PI / 2 }));
  const [left, right] = heardBy(
    chance,
    chatter(0.1, SECONDS, 4),
    [3.8, 2.4, 1.3],
    [microphones[0], microphones[1]],
    ROOM,
  );
  const pair = floors([left, right]);
  expect((await inspect(pair)).verdict).toBe('stereo');
  for (const mains of [50, 60]) {
    const hum = Float64Array.from({ length: FRAMES }, (_, i) =>
      [4, 0, 1, 0, 0.5].reduce(
        (sum, level, h) => sum + 0.001 * level * Math.sin((2 * Math.PI * mains * (h + 1) * i) / RATE),
        0,
      ),
    );
    expect((await inspect([mix(pair[0], hum), pair[1]])).verdict).toBe('stereo');
    expect((await inspect([pair[0], mix(pair[1], hum)])).verdict).toBe('stereo');
  }
});
