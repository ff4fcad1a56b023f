import fc from 'fast-check';
import { LEAST_CONFIDENCE } from '../../diagnose/boundaries.ts';
import { gain, mix, RATE, type Mono } from '../../synth/mono.ts';
import { chatter } from '../../synth/noise.ts';
import { hiss, noise } from '../../synth/noise.ts';
import { inspect } from '../../test/inspecting.ts';
import { SoundRoom } from '../soundRoom.ts';
import { evenedOut, movingGainOf, type Moment } from './movingGain.ts';

// One signal under a gain that moves, and what only looks like that.

const VOICE = chatter(0.1, 12, 1);
/** Words of one to ten times the strength. */
const SPEECH = VOICE.map(
  (x, i) => x * 10 ** (Math.sin((2 * Math.PI * 1.37 * i) / RATE + Math.sin(i / RATE)) / 2 - 0.5),
);
/** The same, loud and soft for seconds. */
const SENTENCES = VOICE.map(
  (x, i) => x * 10 ** (Math.sin((2 * Math.PI * 0.3 * i) / RATE + Math.sin(i / RATE)) / 2 - 0.5),
);
const onFloor = (sides: Mono[]): Mono[] => sides.map((side, i) => mix(side, hiss(side.length, -84, 20 + i)));

/** A gain that falls by `ratio` over a threshold, as a limiter's does: quick to fall, slow to come back. */
function limited(sound: Mono, thresholdDb: number, ratio: number, releaseSeconds: number, attackSeconds = 0.003): Mono {
  let level = 1e-9;
  const [fall, rise] = [attackSeconds, releaseSeconds].map((seconds) => Math.exp(-1 / (seconds * RATE)));
  return sound.map((x) => {
    const keep = x * x > level ? fall : rise;
    level = keep * level + (1 - keep) * x * x;
    return x * 10 ** ((-Math.max(0, 10 * Math.log10(level) - thresholdDb) * (1 - 1 / ratio)) / 20);
  });
}

test('what a gain did is undone to the last bit but for its own smoothing, and its moves are told', () => {
  const swing = (i: number): number => 4 * Math.sin((2 * Math.PI * i) / RATE);
  const right = VOICE.map((x, i) => x * 10 ** (swing(i) / 20));
  const { right: even, moments } = evenedOut(VOICE, right, { shift: 0, sampleRate: RATE, room: new SoundRoom() });
  let [left, power] = [0, 0];
  for (let i = 0; i < VOICE.length; i++) {
    left += (even[i] - VOICE[i]) ** 2;
    power += VOICE[i] ** 2;
  }
  expect(10 * Math.log10(left / power)).toBeLessThan(-45);
  const stretches = Array.from({ length: 40 }, (_, s) =>
    moments.slice((s * moments.length) / 40, ((s + 1) * moments.length) / 40),
  );
  // A sine of 4 dB lies within 95 % of its half turn nine tenths of the time.
  expect(movingGainOf(stretches, 2, -30)!.gainMovesDb).toBeCloseTo(2 * 4 * Math.sin(0.45 * Math.PI), 0);
});

test('a delay is kept in step', () => {
  const late = 300;
  const right = VOICE.map((_, i) => 0.5 * (VOICE[i - late] ?? 0));
  const { right: even } = evenedOut(VOICE, right, { shift: late, sampleRate: RATE, room: new SoundRoom() });
  for (let i = late + RATE / 50; i < 2 * RATE; i += 97) expect(even[i]).toBeCloseTo(VOICE[i - late], 9);
});

test('gains that differ between stretches and stand within them are no limiter', () => {
  const stretch = (gainDb: number): Moment[] =>
    Array.from({ length: 30 }, (_, i) => ({ gainDb, levelDb: -20 - (i % 7) }));
  expect(movingGainOf([stretch(6), stretch(-6), stretch(6), stretch(-6)], 2, -30)).toBeNull();
  // It falls while it is loud, and comes back while it is soft.
  const moving = Array.from({ length: 60 }, (_, i) => ({
    gainDb: 3 * Math.cos((2 * Math.PI * i) / 30),
    levelDb: -30 + 6 * Math.sin((2 * Math.PI * i) / 30),
  }));
  expect(movingGainOf([moving, moving, moving], 2, -30)).toMatchObject({ limited: 'right' });
  expect(
    movingGainOf(
      [moving, moving].map((one) => one.map((m) => ({ ...m, gainDb: -m.gainDb }))),
      2,
      -30,
    ),
  ).toMatchObject({
    limited: 'left',
  });
  // Where nothing but a gain is left a tenth of a decibel within words is enough, as a slow automatic gain moves.
  const slow = [0, 1, 2, 3].map((dB) => stretch(dB).map((m, i) => ({ ...m, gainDb: m.gainDb + 0.015 * (i % 30) })));
  expect(movingGainOf(slow, 2, -30)).toBeNull();
  expect(movingGainOf(slow, 2, -55)).not.toBeNull();
  expect(movingGainOf([0, 3, 0, 3].map(stretch), 2, -55)).toBeNull();
});

test('what is no longer than a word or two may follow by chance, and neither side is said', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
      const [gains, levels] = [noise(2, 0.01, seed), noise(6, 0.01, seed + 1)];
      const word: Moment[] = Array.from({ length: 40 }, (_, i) => ({ gainDb: gains[i], levelDb: levels[i] - 20 }));
      expect(movingGainOf([word], 0.5, -30)?.limited ?? null).toBeNull();
    }),
    { numRuns: 100, seed: 7 },
  );
});

test.each([
  { what: 'a limiter', thresholdDb: -40, ratio: 10, releaseSeconds: 0.12 },
  { what: 'an automatic gain', thresholdDb: -45, ratio: 2.5, releaseSeconds: 0.3 },
])(
  'one side through $what is one signal, and the other side is the one that is kept',
  async ({ thresholdDb, ratio, releaseSeconds }) => {
    const other = gain(limited(SPEECH, thresholdDb, ratio, releaseSeconds), 4);
    for (const [sides, side, whole] of [
      [[SPEECH, other], 'right', 1],
      [[other, SPEECH], 'left', 2],
    ] as const) {
      const { pairs, suggestion, detail, headline } = await inspect(onFloor([...sides]));
      expect(pairs[0]).toMatchObject({ verdict: 'fake-stereo', limited: side });
      expect(pairs[0].disguise).toContain('level');
      expect(pairs[0].gainMovesDb).toBeGreaterThan(2);
      expect(suggestion).toMatchObject({ action: 'fill', from: whole, to: [3 - whole] });
      expect(`${headline} ${detail}`).toMatch('limiter or an automatic gain');
    }
  },
);

test('a gain that moves by a decibel is told where it leaves next to nothing else; what a narrow mix has on its sides is left over, and stays stereo', async () => {
  const slow = SPEECH.map((x, i) => x * 10 ** (Math.sin((2 * Math.PI * 0.9 * i) / RATE) / 20));
  const { pairs } = await inspect(onFloor([SPEECH, slow]));
  expect(pairs[0].nullDepthDb).toBeLessThan(-24);
  expect(pairs[0].nullDepthDb).toBeGreaterThan(-40);
  expect(pairs[0]).toMatchObject({ verdict: 'fake-stereo', disguise: ['level'] });
  const besides = gain(chatter(0.1, 12, 5), -32);
  const narrow = await inspect(
    onFloor([
      mix(SPEECH, besides),
      mix(
        SPEECH,
        besides.map((x) => -x),
      ),
    ]),
  );
  expect(narrow.pairs[0].nullDepthDb).toBeLessThan(-24);
  expect(narrow.pairs[0].nullDepthDb).toBeGreaterThan(-40);
  expect(narrow.pairs[0]).toMatchObject({ verdict: 'stereo', gainMovesDb: 0 });
});

test('two people left and right of the middle in a mix are stereo, however deep a gain that follows them would null', async () => {
  const first = VOICE.map((x, i) => (Math.floor(i / (2.5 * RATE)) % 2 === 0 ? x : 0));
  const second = chatter(0.1, 12, 9).map((x, i) => (Math.floor(i / (2.5 * RATE)) % 2 === 1 ? x : 0));
  const { pairs, suggestion } = await inspect(onFloor([mix(first, gain(second, -5)), mix(gain(first, -5), second)]));
  expect(pairs[0]).toMatchObject({ verdict: 'stereo', limited: null, gainMovesDb: 0 });
  expect(suggestion.action).not.toBe('fill');
});

test.each([9, 21, 40])(
  'a voice spread by an echo of %d ms on both sides is one signal, and its sum is the voice',
  async (ms) => {
    const later = Math.round((ms / 1000) * RATE);
    const echo = VOICE.map((_, i) => 0.6 * (VOICE[i - later] ?? 0));
    const sides = onFloor([
      mix(VOICE, echo),
      mix(
        VOICE,
        gain(echo, 0).map((x) => -x),
      ),
    ]);
    const { pairs, suggestion, headline, detail } = await inspect(sides);
    expect(pairs[0]).toMatchObject({ verdict: 'fake-stereo', disguise: ['filter'], delaySamples: 0 });
    expect(pairs[0].echoSeconds).toBeCloseTo(ms / 1000, 4);
    expect(suggestion).toMatchObject({ action: 'sum', to: [1, 2] });
    expect(`${headline} ${detail}`).toMatch('echo');
  },
);

test('a voice and its echo on a side each are no such pair', async () => {
  const later = Math.round(0.02 * RATE);
  const echo = VOICE.map((_, i) => 0.6 * (VOICE[i - later] ?? 0));
  const { pairs } = await inspect(onFloor([VOICE, echo]));
  expect(pairs[0]).toMatchObject({ verdict: 'fake-stereo', echoSeconds: 0 });
  expect(pairs[0].disguise).toContain('delay');
});

/** A lossy coder's noise: it follows what it lies under, and is none in the pauses; each side has its own. */
const coded = (side: Mono, snrDb: number, seed: number): Mono => {
  const own = noise(10 ** (-snrDb / 20), side.length / RATE, seed);
  return side.map((x, i) => x * (1 + Math.SQRT2 * own[i]));
};

test('a limiter is told under a coder that leaves 19 dB over its noise, and left to a person', async () => {
  const sides = [SPEECH, limited(SPEECH, -30, 3, 0.2)].map((side, s) => coded(side, 19, 31 + s));
  const found = await inspect(onFloor(sides));
  const [pair] = found.pairs;
  expect(pair).toMatchObject({ verdict: 'fake-stereo', disguise: ['level'], limited: 'right' });
  // No null of it says so.
  expect(pair.matchedNullDepthDb).toBeGreaterThan(-20);
  expect(pair.confidence).toBeLessThan(LEAST_CONFIDENCE);
  expect(found.suggestion.action).toBe('review');
});

test.each([
  { ratio: 2.6, releaseSeconds: 1.8, snrDb: 28 },
  { ratio: 2, releaseSeconds: 1.2, snrDb: 22 },
])(
  'a slow automatic gain ($ratio : 1, back in $releaseSeconds s) is told under a coder, and on which side it was',
  async ({ ratio, releaseSeconds, snrDb }) => {
    const gained = gain(limited(SENTENCES, -42, ratio, releaseSeconds, 0.05), 3);
    for (const [sides, side] of [
      [[SENTENCES, gained], 'right'],
      [[gained, SENTENCES], 'left'],
    ] as const) {
      const found = await inspect(onFloor(sides.map((one, s) => coded(one, snrDb, 51 + s))));
      expect(found.pairs[0]).toMatchObject({ verdict: 'fake-stereo', disguise: ['level'], limited: side });
      expect(['review', 'fill']).toContain(found.suggestion.action);
    }
  },
);

test('a gain that hardly moves is told where nothing is left once it is undone, however much louder its side is', async () => {
  const moved = SPEECH.map((x, i) => 2 * x * 10 ** (Math.sin((2 * Math.PI * 0.9 * i) / RATE) / 20));
  const { pairs } = await inspect(onFloor([SPEECH, moved]));
  expect(pairs[0].nullDepthDb).toBeGreaterThan(-20);
  expect(pairs[0]).toMatchObject({ verdict: 'fake-stereo', disguise: ['level'] });
  // A sine of 1 dB lies within 95 % of its half turn nine tenths of the time; what each side hears of itself in its pauses is no gain.
  expect(pairs[0].gainMovesDb).toBeCloseTo(2 * Math.sin(0.45 * Math.PI), 1);
});

test('a narrow mix under as much of a coder stays one', async () => {
  const other = chatter(0.1, 12, 9);
  const sides = [1, -1].map((way, s) =>
    coded(
      mix(
        SPEECH,
        gain(other, -14).map((x) => way * x),
      ),
      18,
      41 + s,
    ),
  );
  expect((await inspect(onFloor(sides))).verdict).toBe('stereo');
});
