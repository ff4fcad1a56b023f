import { mix, RATE, type Mono } from '../../synth/mono.ts';
import { chatter, hiss } from '../../synth/noise.ts';
import { inspect } from '../../test/inspecting.ts';
import { jumpOf } from './jump.ts';

const arrivals = (delays: number[], prominence = 20) =>
  delays.map((delaySamples, i) => ({ startFrame: i * 10_000, delaySamples, prominence }));

test('a delay that changes once is a jump; one that stays, scatters, drifts or goes to and fro is none', () => {
  expect(jumpOf(arrivals([12, 12, 12.4, 12, 200, 200, 200.2, 200]))).toEqual({
    ...{ earliestFrame: 30_000, latestFrame: 40_000, samples: 188 },
  });
  expect(jumpOf(arrivals([12, 12, -700, 12, 12, 12, 20, 20, 20, 20, 900, 20]))).toMatchObject({ samples: 8 });
  expect(jumpOf(arrivals([12, 12, 12, 12, 12, 12.5, 12, 12]))).toBeNull();
  expect(jumpOf(arrivals([1, 9, 17, 25, 33, 41, 49, 57]))).toBeNull();
  expect(jumpOf(arrivals([0, 90, 0, 90, 0, 90, 0, 90, 0, 90]))).toBeNull();
  expect(jumpOf(arrivals([12, 12, 200, 200, 200, 200, 200]))).toBeNull();
  expect(jumpOf(arrivals([12, 12, 12, 200, 200, 200], 3))).toBeNull();
});

/** One voice on both sides, the right one later by one delay up to a moment and by another from there on. */
function jumping(voice: Mono, atFrame: number, beforeSamples: number, afterSamples: number, factor: number): Mono[] {
  const frames = voice.length;
  const right = Float64Array.from(
    { length: frames },
    (_, i) => factor * (voice[i - (i < atFrame ? beforeSamples : afterSamples)] ?? 0),
  );
  return [mix(voice, hiss(frames, -75, 5)), mix(right as Mono, hiss(frames, -75, 6))];
}

/** A moment near a wanted one in which the voice is heard: in a pause nobody can tell where a delay changes. */
function heardNear(voice: Mono, atFrame: number): number {
  let [best, loudest] = [atFrame, 0];
  for (let at = atFrame - RATE; at < atFrame + RATE; at += 480) {
    const power = voice.subarray(at - 960, at + 960).reduce((sum, x) => sum + x * x, 0);
    if (power > loudest) [best, loudest] = [at, power];
  }
  return best;
}

test.each([
  { seconds: 14, at: 5, before: 0, after: 960, factor: 0.9 },
  { seconds: 20, at: 8, before: 48, after: 240, factor: -0.8 },
  { seconds: 30, at: 24, before: 144, after: -192, factor: 0.5 },
  { seconds: 12, at: 6, before: -24, after: -58, factor: 1.2 },
  { seconds: 40, at: 27, before: 0, after: 1900, factor: 0.7 },
])(
  'one voice whose delay jumps from $before to $after samples at about $at s of $seconds s',
  async ({ seconds, at, before, after, factor }) => {
    const voice = chatter(0.1, seconds, at);
    const atFrame = heardNear(voice, at * RATE);
    const found = await inspect(jumping(voice, atFrame, before, after, factor));
    const [pair] = found.pairs;
    expect([found.verdict, pair.verdict]).toEqual(['fake-stereo', 'fake-stereo']);
    expect(pair.disguise).toContain('delay');
    expect(Math.abs(pair.jump!.atSeconds - atFrame / RATE)).toBeLessThan(0.02);
    expect(pair.jump!.delaySamples).toBeCloseTo(after - before, 0);
    expect(pair.delaySamples).toBeCloseTo(before, 0);
    expect(pair.matchedNullDepthDb).toBeLessThan(-25);
    const finding = found.findings.find(({ code }) => code === 'drift')!;
    expect(finding.startSeconds).toBe(pair.jump!.atSeconds);
    expect(finding.message).toContain(after > before ? 'later than before' : 'earlier than before');
    // No delay lines such sides up.
    expect(found.suggestion.action).toBe('select');
  },
  30_000,
);

test('at twice and four times the rate a jump is told in the samples of that rate', async () => {
  for (const sampleRate of [96_000, 192_000]) {
    const voice = chatter(0.1, 8, 3, sampleRate);
    const atFrame = 3.5 * sampleRate;
    const found = await inspect(jumping(voice, atFrame, 100, 700, 0.8), sampleRate);
    const { jump, delaySamples } = found.pairs[0];
    expect(found.verdict).toBe('fake-stereo');
    expect(Math.abs(jump!.atSeconds - 3.5)).toBeLessThan(0.02);
    expect(Math.abs(jump!.delaySamples - 600)).toBeLessThan(1);
    expect(Math.abs(delaySamples - 100)).toBeLessThan(1);
  }
}, 30_000);
