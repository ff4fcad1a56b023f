import { gain, mix } from '../../synth/mono.ts';
import { hiss } from '../../synth/noise.ts';
import { BARE_OFFICE, heardFrom, OFFICE } from '../../synth/room.ts';
import { voiceByClock } from '../../synth/anyTime.ts';
import { inspect } from '../../test/inspecting.ts';
import { driftOf } from './drift.ts';

const RATE = 48_000;
const arrivals = (delayAt: (frame: number) => number, seconds = 20, count = 12) =>
  Array.from({ length: count }, (_, i) => {
    const startFrame = Math.round((i * seconds * RATE) / count);
    return { startFrame, delaySamples: delayAt(startFrame), prominence: 20 };
  });

test('a line is found, also with arrivals of chance beside it; what stays or jumps about is none', () => {
  const line = arrivals((frame) => 12 + 40e-6 * frame);
  expect(driftOf(line)!.slope).toBeCloseTo(40e-6, 9);
  line[3].delaySamples = -900;
  line[7].delaySamples = 1400;
  expect(driftOf(line)!.slope).toBeCloseTo(40e-6, 9);
  expect(driftOf(arrivals(() => 17))).toBeNull();
  const strewn = arrivals(() => 0).map((one, i) => ({ ...one, delaySamples: (i * i * 37) % 97 }));
  expect(driftOf(strewn)).toBeNull();
  expect(driftOf(line.slice(0, 4))).toBeNull();
  expect(driftOf(arrivals((frame) => 40e-6 * frame).map((one) => ({ ...one, prominence: 3 })))).toBeNull();
});

test.each([
  { ppm: 12, seconds: 14, delayMs: 0, sign: 1 },
  { ppm: -80, seconds: 14, delayMs: 3, sign: 1 },
  { ppm: 35, seconds: 24, delayMs: -11, sign: -1 },
])(
  'one voice by two clocks $ppm ppm apart over $seconds s is one signal whose delay grows',
  async ({ ppm, seconds, delayMs, sign }) => {
    const left = voiceByClock(seconds, RATE, 1, 0);
    const right = voiceByClock(seconds, RATE, 1 - ppm * 1e-6, delayMs / 1000).map((x) => sign * 0.7 * x);
    const found = await inspect([mix(left, hiss(left.length, -75, 5)), mix(right, hiss(left.length, -75, 6))]);
    const [pair] = found.pairs;
    expect(pair.verdict).toBe('fake-stereo');
    expect(pair.disguise).toContain('delay');
    expect(Math.abs(pair.driftPpm - ppm)).toBeLessThan(1);
    expect(Math.abs(pair.delaySamples - (delayMs / 1000) * RATE)).toBeLessThan(1);
    expect(pair.polarity).toBe(sign > 0 ? 'normal' : 'inverted');
    expect(pair.matchedNullDepthDb).toBeLessThan(-25);
    expect(found.findings.map(({ code }) => code)).toContain('drift');
    expect(found.suggestion.action).toBe('select');
  },
);

test.each([
  { ppm: 60, seconds: 24 },
  { ppm: -85, seconds: 20 },
])('two microphones on two devices $ppm ppm apart drift as well, and stay two', async ({ ppm, seconds }) => {
  const near = heardFrom(voiceByClock(seconds, RATE, 1, 0), OFFICE, 0.4, 3);
  const far = heardFrom(voiceByClock(seconds, RATE, 1 - ppm * 1e-6, 0.006), BARE_OFFICE, 2.5, 4);
  const frames = seconds * RATE;
  const found = await inspect([
    mix(near.subarray(0, frames), hiss(frames, -72, 5)),
    mix(gain(far.subarray(0, frames), 6), hiss(frames, -60, 6)),
  ]);
  const [pair] = found.pairs;
  expect(pair.verdict).toBe('two-mics');
  expect(Math.abs(pair.driftPpm - ppm)).toBeLessThan(2);
  expect(found.findings.find(({ code }) => code === 'drift')).toMatchObject({
    severity: 'look',
    channels: [ppm > 0 ? 2 : 1],
  });
});
