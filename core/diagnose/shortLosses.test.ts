import fc from 'fast-check';
import { inspect } from '../test/inspecting.ts';
import { delayed } from '../synth/filters.ts';
import { mix, scale } from '../synth/mono.ts';
import { chatter, noise } from '../synth/noise.ts';

// A side that is lost for less than a second leaves the verdict as it is; each loss is told where it is, and what has holes is never kept.

const SECONDS = 14;
const RATE = 48_000;
const voice = mix(chatter(0.1, SECONDS, 1), noise(0.0003, SECONDS, 2));

/** Without a side for so long from each of these seconds on; what is left there is digital silence, or a receiver's noise. */
function lost(sound: Float64Array, starts: readonly number[], seconds: number, noiseRms: number): Float64Array {
  const out = sound.slice();
  const hiss = noise(noiseRms, SECONDS, 77);
  for (const start of starts)
    for (let i = Math.round(start * RATE); i < (start + seconds) * RATE; i++) out[i] = noiseRms === 0 ? 0 : hiss[i];
  return out;
}

// The voice pauses for a while from 2.2 s in every three seconds: a loss is heard where it speaks.
const SPOKEN = [0.4, 3.3, 6.2, 9.4, 12.1];

test('short losses are found where they are, the verdict stays, and the whole side stands in', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.double({ min: 0.25, max: 0.9, noNaN: true }),
      fc.double({ min: 0, max: 0.09, noNaN: true }),
      fc.constantFrom('left' as const, 'right' as const),
      fc.constantFrom(0, 0.0008),
      fc.constantFrom(1, 0.5),
      async (seconds, offset, side, noiseRms, gain) => {
        const starts = SPOKEN.map((start) => start + offset);
        const holed = scale(lost(voice, starts, seconds, noiseRms), gain);
        const found = await inspect(side === 'left' ? [holed, voice] : [voice, holed]);
        expect(found.verdict).toBe(gain === 1 ? 'dual-mono' : 'fake-stereo');
        const dropouts = found.findings.filter(({ code }) => code === 'dropout');
        expect(dropouts.map(({ channels }) => channels)).toEqual(starts.map(() => [side === 'left' ? 1 : 2]));
        for (const [i, { startSeconds, endSeconds }] of dropouts.entries()) {
          expect(Math.abs(startSeconds - starts[i])).toBeLessThan(0.1);
          expect(Math.abs(endSeconds - starts[i] - seconds)).toBeLessThan(0.1);
        }
        expect(found.suggestion).toMatchObject({ action: 'fill', from: side === 'left' ? 2 : 1 });
        expect(found.detail).toMatch(new RegExp(`^The ${side} side drops out 5 times`));
      },
    ),
    { numRuns: 10 },
  );
});

test('where both sides have holes, neither is kept: a person fills them', async () => {
  const found = await inspect([lost(voice, [0.5, 6.3], 0.5, 0), lost(voice, [3.4, 9.5], 0.5, 0)]);
  expect(found).toMatchObject({ verdict: 'dual-mono', suggestion: { action: 'review' } });
  expect(found.findings.filter(({ code }) => code === 'dropout').length).toBe(4);
});

test('people who take turns, a field of its own on each side and one side alone have no dropouts', async () => {
  const turn = (seed: number, which: number): Float64Array =>
    chatter(0.1, SECONDS, seed).map((x, i) => (Math.floor(i / (0.7 * RATE)) % 2 === which ? x : 0));
  const hissed = (sound: Float64Array, seed: number): Float64Array => mix(sound, noise(0.0003, SECONDS, seed));
  const [a, b] = [turn(5, 0), turn(6, 1)];
  const pairs = [
    [hissed(a, 7), hissed(b, 8)],
    [hissed(mix(a, scale(delayed(b, 150), 0.2)), 7), hissed(mix(b, scale(delayed(a, 150), 0.2)), 8)],
    [noise(0.05, SECONDS, 9), noise(0.05, SECONDS, 10)],
    [voice, noise(0.0005, SECONDS, 11)],
    [voice, new Float64Array(voice.length)],
  ];
  for (const sides of pairs) {
    const { findings } = await inspect(sides);
    expect(findings.filter(({ code }) => code === 'dropout')).toEqual([]);
  }
});

test('a second and more of digital silence that reaches into a pause is a part of the clip, not a moment', async () => {
  const found = await inspect([voice, lost(voice, [1.5], 1.5, 0)]);
  expect(found).toMatchObject({ verdict: 'changing', suggestion: { action: 'fill', from: 1, to: [2] } });
});
