import { lowPassed, swaying } from '../../synth/filters.ts';
import { gain, mix, RATE, scale, type Mono } from '../../synth/mono.ts';
import { chatter, hiss } from '../../synth/noise.ts';
import { inspect } from '../../test/inspecting.ts';

const SECONDS = 8;
const voice = lowPassed(chatter(0.1, SECONDS, 4));
const own = (side: Mono, seed: number): Mono => mix(side, hiss(side.length, -78, seed));

test.each([
  { kind: 'beside', baseMs: 9, depthMs: 1.5, hz: 0.7, wetDb: -3 },
  { kind: 'beside', baseMs: 20, depthMs: 0.5, hz: 1.6, wetDb: -7 },
  { kind: 'wide', baseMs: 14, depthMs: 2, hz: 0.4, wetDb: -2 },
  { kind: 'alone', baseMs: 6, depthMs: 2, hz: 0.7, wetDb: 0 },
  { kind: 'alone', baseMs: 17, depthMs: 0.4, hz: 0.25, wetDb: -4 },
] as const)(
  'a copy $kind whose delay sways by $depthMs ms about $baseMs ms, $hz times a second, is one signal in disguise',
  async ({ kind, baseMs, depthMs, hz, wetDb }) => {
    const delayAt = (i: number): number => (RATE / 1000) * (baseMs + depthMs * Math.sin((2 * Math.PI * hz * i) / RATE));
    const copy = gain(swaying(voice, delayAt), wetDb);
    const sides: Mono[] =
      kind === 'alone'
        ? [voice, copy]
        : kind === 'beside'
          ? [voice, mix(voice, copy)]
          : [mix(voice, copy), mix(voice, scale(copy, -1))];
    for (const turnedRound of kind === 'wide' ? [false] : [false, true]) {
      const found = await inspect((turnedRound ? [sides[1], sides[0]] : sides).map((side, s) => own(side, s + 1)));
      const [pair] = found.pairs;
      const whole = kind === 'wide' ? null : turnedRound ? 'right' : 'left';
      expect(pair).toMatchObject({ verdict: 'fake-stereo', sway: { kind, whole }, delaySamples: 0, gainDb: 0 });
      expect(pair.disguise).toEqual([kind === 'alone' ? 'delay' : 'filter']);
      // The extremes are where the delay is for longest.
      expect(Math.abs(1000 * pair.sway!.leastSeconds - (baseMs - depthMs))).toBeLessThan(0.1 + 0.15 * depthMs);
      expect(Math.abs(1000 * pair.sway!.mostSeconds - (baseMs + depthMs))).toBeLessThan(0.1 + 0.15 * depthMs);
      expect(pair.matchedNullDepthDb).toBeLessThan(-22);
      expect(found.detail).toContain('goes to and fro between');
      const channel = whole === 'left' ? 1 : 2;
      expect(found.suggestion).toMatchObject(
        kind === 'wide' ? { action: 'sum', to: [1, 2] } : { action: 'select', from: channel, to: [channel] },
      );
    }
  },
  60_000,
);

test.each(['beside', 'wide', 'alone'] as const)(
  'a copy %s that sways is found though the first word begins where the first stretch that is looked at ends',
  async (kind) => {
    const late = voice.map((x, i) => (i < 0.281 * RATE ? 0 : x));
    const copy = swaying(late, (i) => (RATE / 1000) * (8.5 + 0.2 * Math.sin((4 * Math.PI * i) / RATE)));
    const sides = {
      beside: [late, mix(late, scale(copy, 0.6))],
      wide: [mix(late, copy), mix(late, scale(copy, -1))],
      alone: [late, copy],
    }[kind];
    const found = await inspect(sides.map((side, s) => own(side, s + 1)));
    expect(found.pairs[0]).toMatchObject({ verdict: 'fake-stereo', sway: { kind } });
  },
);

test.each(['beside', 'alone'] as const)(
  'a copy %s that sways too fast to be followed now and then is found by what it leaves of the rest, and left to a person',
  async (kind) => {
    // Every third second it goes to and fro seven times a second, by more than it may.
    const quick = (i: number): number => (Math.floor(i / RATE) % 3 < 2 ? 0 : Math.sin((14 * Math.PI * i) / RATE));
    const copy = swaying(
      voice,
      (i) => (RATE / 1000) * (12 + Math.sin((2 * Math.PI * 0.6 * i) / RATE) + 1.5 * quick(i)),
    );
    const sides = kind === 'alone' ? [voice, copy] : [voice, mix(voice, gain(copy, -3))];
    const found = await inspect(sides.map((side, s) => own(side, s + 1)));
    expect(found.pairs[0]).toMatchObject({ verdict: 'fake-stereo', sway: { kind, whole: 'left' } });
    expect(found.pairs[0].matchedNullDepthDb).toBeGreaterThan(-20);
    expect(found.suggestion.action).toBe('review');
  },
);

test('a room of its own on each side is no copy that sways, and a delay that stays is told as one', async () => {
  const echoes = (seed: number): Mono =>
    [7, 13, 22, 31].reduce(
      (side, ms, n) =>
        mix(
          side,
          gain(
            swaying(voice, () => ((ms + seed * (n + 1)) * RATE) / 1000),
            -4 - n,
          ),
        ),
      voice,
    );
  const room = await inspect([own(echoes(0), 1), own(echoes(1.7), 2)]);
  expect(room.pairs[0].sway).toBeNull();
  expect(room.verdict).not.toBe('fake-stereo');
  const late = await inspect([
    own(voice, 1),
    own(
      swaying(voice, () => 480),
      2,
    ),
  ]);
  expect(late.pairs[0]).toMatchObject({ verdict: 'fake-stereo', disguise: ['delay'], sway: null });
});
