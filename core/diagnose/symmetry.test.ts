import fc from 'fast-check';
import type { Inspection } from '../schema/inspection.ts';
import { inspect } from '../test/inspecting.ts';
import { delayed, lowPassed } from '../synth/filters.ts';
import { mix, scale } from '../synth/mono.ts';
import { chatter, noise } from '../synth/noise.ts';

const SECONDS = 9;
const RATE = 24000;
const voice = (seed: number): Float64Array => chatter(0.08, SECONDS, seed, RATE);
const hiss = (rms: number, seed: number): Float64Array => noise(rms, SECONDS, seed, RATE);
const [one, other] = [mix(voice(61), hiss(0.0002, 63)), mix(voice(62), hiss(0.0002, 64))];
const inTurn = (turn: number, sound: Float64Array): Float64Array =>
  sound.map((x, i) => (Math.floor(i / (1.5 * RATE)) % 2 === turn ? x : 0));
const [first, second] = [inTurn(0, voice(65)), inTurn(1, voice(66))];

/** A pair of each kind, and what it is called. */
const PAIRS: Record<string, [Float64Array, Float64Array]> = {
  silent: [hiss(0.0005, 67), hiss(0.0004, 68)],
  'one-sided': [one, hiss(0.0008, 69)],
  'dual-mono': [one, one],
  'fake-stereo, late and quieter': [one, scale(delayed(one, 41.3), 0.6)],
  'fake-stereo, upside down': [one, scale(one, -1)],
  'fake-stereo, filtered': [one, lowPassed(one)],
  'two-mics': [
    mix(first, scale(delayed(second, 90), 0.15), hiss(0.0003, 70)),
    mix(second, scale(delayed(first, 100), 0.15), hiss(0.0003, 71)),
  ],
  stereo: [mix(one, scale(other, 0.4)), mix(scale(one, 0.4), other)],
  changing: [one, one.map((x, i) => (i > 3.2 * RATE && i < 6.1 * RATE ? 0 : x))],
};
const names = Object.keys(PAIRS);
const found = new Map<string, Promise<Inspection>>();
const inspected = (name: string): Promise<Inspection> =>
  found.get(name) ?? found.set(name, inspect(PAIRS[name], RATE)).get(name)!;

const mirrored = { left: 'right', right: 'left' } as const;
const otherChannel = (channel: number): number => 3 - channel;

test('what is said of the sides is said of the other when they are swapped, and nothing else changes', async () => {
  for (const name of names) {
    const [left, right] = PAIRS[name];
    const [as, swapped] = [await inspected(name), await inspect([right, left], RATE)];
    const [pair, back] = [as.pairs[0], swapped.pairs[0]];
    expect([name, swapped.verdict]).toEqual([name, name.split(',')[0]]);
    expect(swapped.sections).toEqual(
      as.sections.map((section) => ({ ...section, side: section.side && mirrored[section.side] })),
    );
    expect({ ...back, disguise: [...back.disguise].sort() }).toMatchObject({
      verdict: pair.verdict,
      polarity: pair.polarity,
      disguise: [...pair.disguise].sort(),
      side: pair.side && mirrored[pair.side],
    });
    for (const [value, mirror] of [
      [pair.gainDb, back.gainDb],
      [pair.balanceLu, back.balanceLu],
      [pair.delaySamples, back.delaySamples],
    ]) {
      if (value !== null && name !== 'two-mics' && name !== 'stereo') expect(mirror).toBeCloseTo(-value, 1);
    }
    expect([back.correlation, back.nullDepthDb, back.sumLossDb]).toEqual(
      [pair.correlation, pair.nullDepthDb, pair.sumLossDb].map((value) => value && expect.closeTo(value, 6)),
    );
    expect(swapped.suggestion.action).toBe(as.suggestion.action);
    if (as.suggestion.action === 'fill')
      expect(swapped.suggestion).toMatchObject({
        from: otherChannel(as.suggestion.from!),
        to: as.suggestion.to.map(otherChannel),
      });
  }
});

test('a clip recorded louder or quieter, or upside down on both sides, is the same clip', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.constantFrom(...names),
      fc.double({ min: 0.3, max: 3, noNaN: true }),
      fc.boolean(),
      async (name, factor, inverted) => {
        const as = await inspected(name);
        const again = await inspect(
          PAIRS[name].map((side) => scale(side, inverted ? -factor : factor)),
          RATE,
        );
        expect(again).toMatchObject({ verdict: as.verdict, sections: as.sections, suggestion: as.suggestion });
        expect(again.pairs[0]).toMatchObject({
          side: as.pairs[0].side,
          polarity: as.pairs[0].polarity,
          disguise: as.pairs[0].disguise,
        });
        expect(again.pairs[0].delaySamples).toBeCloseTo(as.pairs[0].delaySamples, 2);
        expect(again.channels[0].rmsDbfs).toBeCloseTo(as.channels[0].rmsDbfs! + 20 * Math.log10(factor), 6);
      },
    ),
    { numRuns: 10, seed: 8 },
  );
});

test('the same samples always give the same answer, to the last digit', async () => {
  for (const name of ['two-mics', 'changing']) expect(await inspect(PAIRS[name], RATE)).toEqual(await inspected(name));
});
