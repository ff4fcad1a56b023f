import { chatter, noise } from '../../synth/noise.ts';
import { sine } from '../../synth/tones.ts';
import type { Repair } from '../../schema/repair.ts';
import { exactPlan, onlyMoves } from '../plan/exactPlan.ts';
import { Listening } from './listening.ts';
import { fillFrom, leaveAsItIs, selectChannel, splitToMonos, sumToMono, swapSides } from '../plan/plans.ts';
import { Router } from './router.ts';

function route(repair: Repair, inputs: Float64Array[], blockFrames = 1000, levelGainDb = 0): Float64Array[] {
  const router = new Router(repair, levelGainDb);
  const frames = inputs[0].length;
  const outputs = Array.from({ length: router.outputChannels }, () => new Float64Array(frames));
  for (let start = 0; start < frames; start += blockFrames) {
    const end = Math.min(frames, start + blockFrames);
    router.process(
      start,
      inputs.map((x) => x.subarray(start, end)),
      outputs.map((x) => x.subarray(start, end)),
      end - start,
    );
  }
  return outputs;
}

const LEFT = chatter(0.2, 0.2, 1);
const RIGHT = noise(0.1, 0.2, 2);

test('plans put each channel where they say, sample for sample', () => {
  expect(route(fillFrom(1, 2), [LEFT, RIGHT])).toEqual([LEFT, LEFT]);
  expect(route(fillFrom(2, 2), [LEFT, RIGHT])).toEqual([RIGHT, RIGHT]);
  expect(route(swapSides(2), [LEFT, RIGHT])).toEqual([RIGHT, LEFT]);
  expect(route(swapSides(3), [LEFT, RIGHT, LEFT])).toEqual([RIGHT, LEFT, LEFT]);
  expect(route(selectChannel(2, 2), [LEFT, RIGHT])).toEqual([RIGHT]);
  expect(route(splitToMonos(2), [LEFT, RIGHT])).toEqual([LEFT, RIGHT]);
  expect(route(leaveAsItIs(2), [LEFT, RIGHT])).toEqual([LEFT, RIGHT]);
});

test('the sum of two equal sides is as loud as either', () => {
  const [sum] = route(sumToMono(2), [LEFT, LEFT]);
  sum.forEach((x, i) => expect(x).toBeCloseTo(LEFT[i], 12));
});

test('only moves count as exact', () => {
  const inputs = (repair: Repair) => exactPlan(repair)?.map((channels) => channels.map(({ input }) => input));
  expect(inputs(fillFrom(1, 2))).toEqual([[0, 0]]);
  expect(inputs(splitToMonos(2))).toEqual([[0], [1]]);
  expect(exactPlan(sumToMono(2))).toBeNull();
  const trimmed = (part: Partial<Repair['trims'][number]>): Repair => ({
    ...swapSides(2),
    trims: [{ channel: 1, gainDb: 0, polarity: 'normal', delaySamples: 0, ...part }],
  });
  expect(onlyMoves(exactPlan(swapSides(2))!)).toBe(true);
  const turned = exactPlan(trimmed({ polarity: 'inverted', delaySamples: -3 }))!;
  expect(turned).toEqual([
    [
      { input: 1, turnedOver: false, shiftFrames: 0 },
      { input: 0, turnedOver: true, shiftFrames: -3 },
    ],
  ]);
  expect(onlyMoves(turned)).toBe(false);
  expect(exactPlan(trimmed({ delaySamples: 0.5 }))).toBeNull();
  expect(exactPlan(trimmed({ gainDb: -1 }))).toBeNull();
});

test('gain, polarity and whole delays are what they say, whatever the block', () => {
  const trims = [{ channel: 2, gainDb: 20 * Math.log10(2), polarity: 'inverted' as const, delaySamples: 17 }];
  for (const block of [64, 1000, 9600]) {
    const [left, right] = route({ ...leaveAsItIs(2), trims }, [LEFT, RIGHT], block);
    expect(left).toEqual(LEFT);
    for (let i = 17; i < 9600; i++) expect(right[i]).toBeCloseTo(-2 * RIGHT[i - 17], 12);
    expect(right.subarray(0, 17).every((x) => x === 0)).toBe(true);
  }
});

test('an earlier channel holds the others back by the latency', () => {
  const repair = {
    ...leaveAsItIs(2),
    trims: [{ channel: 1, gainDb: 0, polarity: 'normal' as const, delaySamples: -40 }],
  };
  expect(new Router(repair).latencyFrames).toBe(40);
  const [left, right] = route(repair, [LEFT, RIGHT]);
  expect(left).toEqual(LEFT);
  expect(right.subarray(40)).toEqual(RIGHT.subarray(0, 9560));
});

test.each([0.5, 3.25, -2.75])('a delay of %d samples moves a sine by that much', (delaySamples) => {
  const repair = { ...leaveAsItIs(1), trims: [{ channel: 1, gainDb: 0, polarity: 'normal' as const, delaySamples }] };
  const { latencyFrames } = new Router(repair);
  const [out] = route(repair, [sine(3000, 0.5, 0.2)]);
  for (let i = 200; i < 9000; i++) {
    expect(out[i]).toBeCloseTo(0.5 * Math.sin((2 * Math.PI * 3000 * (i - latencyFrames - delaySamples)) / 48000), 5);
  }
});

test('listening switches between before and after without a jump, and meters the sides', () => {
  const listening = new Listening(2);
  listening.setRepair(fillFrom(1, 2));
  const tone = Float32Array.from(sine(100, 0.5, 128 / 48000));
  const speakers: [Float32Array, Float32Array] = [new Float32Array(128), new Float32Array(128)];
  const inputs = [new Float32Array(128).fill(0.5), new Float32Array(128).fill(-0.25)];
  for (let block = 0; block < 8; block++) listening.process(block * 128, inputs, speakers, 128, 'before', 'both');
  expect([speakers[0][127], speakers[1][127]]).toEqual([0.5, -0.25]);
  let previous = speakers[1][127];
  for (let block = 0; block < 8; block++) {
    listening.process(block * 128, inputs, speakers, 128, 'after', 'both');
    for (const x of speakers[1]) {
      expect(Math.abs(x - previous)).toBeLessThan(0.005);
      previous = x;
    }
  }
  expect(previous).toBe(0.5);
  for (let block = 0; block < 8; block++)
    listening.process(block * 128, [tone, tone], speakers, 128, 'after', 'difference');
  expect(Math.max(...speakers[0].map(Math.abs))).toBeLessThan(1e-7);
});

test('after a jump to another place nothing of the old one is heard', () => {
  const delayed = {
    ...leaveAsItIs(1),
    trims: [{ channel: 1, gainDb: 0, polarity: 'normal' as const, delaySamples: 40 }],
  };
  const router = new Router(delayed);
  const out = [new Float64Array(100)];
  router.process(0, [new Float64Array(100).fill(1)], out, 100);
  router.process(100, [new Float64Array(100).fill(1)], out, 100);
  expect(out[0]).toEqual(new Float64Array(100).fill(1));
  router.process(5000, [new Float64Array(100).fill(0.5)], out, 100);
  expect(out[0]).toEqual(new Float64Array(100).map((_, i) => (i < 40 ? 0 : 0.5)));
});
