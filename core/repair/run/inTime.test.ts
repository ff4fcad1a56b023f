import fc from 'fast-check';
import { chatter, noise } from '../../synth/noise.ts';
import type { Repair, Route, Sections, Turns } from '../../schema/repair.ts';
import { leaveAsItIs, pass, routed, splitToMonos } from '../plan/plans.ts';
import { Listening } from './listening.ts';
import { Router } from './router.ts';

// Sections and turns against closed form: where nothing fades each is what its routes say, and fades have the shape that stands in the method.

const FRAMES = 6000;
const LEFT = chatter(0.2, 0.125, 1).map((x) => x + 0.01);
const RIGHT = noise(0.1, 0.125, 2);

function run(repair: Repair, inputs: Float64Array[], blockFrames: number, from = 0): Float64Array[] {
  const router = new Router(repair);
  const { length } = inputs[0];
  const outputs = Array.from({ length: router.outputChannels }, () => new Float64Array(length - from));
  for (let start = from; start < length; start += blockFrames) {
    const end = Math.min(length, start + blockFrames);
    router.process(
      start,
      inputs.map((x) => x.subarray(start, end)),
      outputs.map((x) => x.subarray(start - from, end - from)),
      end - start,
    );
  }
  return outputs;
}

function inSections(
  fadeFrames: number,
  boundaries: number[],
  routes: Route[][],
  fadeIn: 'equal-gain' | 'equal-power',
): Repair {
  const edges = [0, ...boundaries, FRAMES];
  const sections: Sections = {
    fadeFrames,
    list: routes.map((each, i) => ({ startFrame: edges[i], endFrame: edges[i + 1], fadeIn, routes: each })),
  };
  return { ...leaveAsItIs(2), sections };
}

const FILL = [pass(1), pass(1)];
const STRAIGHT = [pass(1), pass(2)];

test('a section fills only while it lasts, and the channel whose route does not change has no fade', () => {
  const [left, right] = run(
    inSections(480, [2000, 4000], [STRAIGHT, FILL, STRAIGHT], 'equal-gain'),
    [LEFT, RIGHT],
    700,
  );
  expect(left).toEqual(LEFT);
  expect(right.subarray(0, 1760)).toEqual(RIGHT.subarray(0, 1760));
  expect(right.subarray(2240, 3760)).toEqual(LEFT.subarray(2240, 3760));
  expect(right.subarray(4240)).toEqual(RIGHT.subarray(4240));
  // The middle of the fade is the boundary: half of each at equal gain.
  expect((right[1999] + right[2000]) / 2).toBeCloseTo((LEFT[1999] + RIGHT[1999] + LEFT[2000] + RIGHT[2000]) / 4, 3);
  for (let i = 1760; i < 2240; i++) {
    const into = Math.sin(((i - 1760 + 0.5) / 480) * (Math.PI / 2)) ** 2;
    expect(right[i]).toBeCloseTo(RIGHT[i] * (1 - into) + LEFT[i] * into, 12);
  }
});

test('equal gain keeps the level of what both sides carry, equal power that of what they do not', () => {
  const swap = [pass(2), pass(1)];
  const [same] = run(inSections(2000, [3000], [STRAIGHT, swap], 'equal-gain'), [LEFT, LEFT], 512);
  same.forEach((x, i) => expect(x).toBeCloseTo(LEFT[i], 12));
  const power = (x: Float64Array): number => x.reduce((sum, value) => sum + value * value, 0) / x.length;
  const one = noise(0.1, 0.125, 5);
  const [other] = run(inSections(2000, [3000], [STRAIGHT, swap], 'equal-power'), [one, RIGHT], 512);
  expect(10 * Math.log10(power(other.subarray(2000, 4000)) / power(RIGHT))).toBeCloseTo(0, 0);
});

test('however the stream is cut, and wherever it is joined, the samples are the same', () => {
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.integer({ min: 1, max: FRAMES - 1 }), { maxLength: 6 }),
      fc.integer({ min: 0, max: 3000 }),
      fc.integer({ min: 1, max: 2500 }),
      fc.integer({ min: 0, max: FRAMES - 1 }),
      fc.boolean(),
      (boundaries, fadeFrames, block, from, delayed) => {
        const sorted = [...boundaries].sort((a, b) => a - b);
        const choices = [STRAIGHT, FILL, [pass(2), pass(1)], [[], pass(2)]];
        const repair: Repair = {
          ...inSections(
            fadeFrames,
            sorted,
            [...sorted, 0].map((_, i) => choices[i % 4]),
            i2kind(sorted.length),
          ),
          trims: delayed ? [{ channel: 2, gainDb: -3, polarity: 'inverted', delaySamples: 31 }] : [],
          turns: turnsOf([
            [1, 500, 900],
            [1, 1000, 2500],
            [2, 2600, 5000],
          ]),
        };
        const whole = run(repair, [LEFT, RIGHT], FRAMES);
        expect(areSame(run(repair, [LEFT, RIGHT], block), whole)).toBe(true);
        // After a jump: all but what the delay still holds back.
        const later = run(repair, [LEFT, RIGHT], block, from);
        const settled = delayed ? 31 : 0;
        expect(
          areSame(
            later.map((x) => x.subarray(settled)),
            whole.map((x) => x.subarray(from + settled)),
          ),
        ).toBe(true);
      },
    ),
    { numRuns: 60 },
  );
});

/** Sample by sample; an expectation for each would take longer than all the rest. */
function areSame(some: Float64Array[], others: Float64Array[]): boolean {
  return some.every((x, c) => x.length === others[c].length && x.every((value, i) => Object.is(value, others[c][i])));
}

const i2kind = (count: number): 'equal-gain' | 'equal-power' => (count % 2 === 0 ? 'equal-gain' : 'equal-power');

function turnsOf(
  list: [channel: number, startFrame: number, endFrame: number][],
  closedDb: number | null = -12,
): Turns {
  const channels = [...new Set(list.map(([channel]) => channel))];
  return {
    microphones: channels.map((channel) => ({
      channel,
      closedDb,
      ...{ fadeInFrames: 100, fadeOutFrames: 300, leadFrames: 0, tailFrames: 0 },
    })),
    list: list.map(([channel, startFrame, endFrame]) => ({ channel, startFrame, endFrame })),
  };
}

test('a turn is fully open from mark to mark, its fades lie outside, and between turns it closes as far as it is told', () => {
  const ones = new Float64Array(FRAMES).fill(1);
  for (const closedDb of [-12, null]) {
    const closed = closedDb === null ? 0 : 10 ** (closedDb / 20);
    const [gain, other] = run({ ...splitToMonos(2), turns: turnsOf([[1, 1000, 2000]], closedDb) }, [ones, ones], 333);
    expect(other).toEqual(ones);
    expect(gain.subarray(1000, 2000).every((x) => x === 1)).toBe(true);
    for (const i of [0, 899, 2300, 5999]) expect(gain[i]).toBeCloseTo(closed, 12);
    for (let i = 900; i < 1000; i++)
      expect(gain[i]).toBeCloseTo(closed + (1 - closed) * Math.sin(((i - 900 + 0.5) / 100) * (Math.PI / 2)) ** 2, 12);
    for (let i = 2000; i < 2300; i++)
      expect(gain[i]).toBeCloseTo(closed + (1 - closed) * Math.cos(((i - 2000 + 0.5) / 300) * (Math.PI / 2)) ** 2, 12);
  }
});

test('turns closer than their fades do not shut the microphone between them; lead and tail keep it open longer', () => {
  const ones = new Float64Array(FRAMES).fill(1);
  const close = turnsOf(
    [
      [1, 1000, 2000],
      [1, 2150, 3000],
    ],
    null,
  );
  const [gain] = run({ ...routed(1, [pass(1)]), turns: close }, [ones], 4096);
  expect(Math.min(...gain.subarray(2000, 2150))).toBeGreaterThan(0.5);
  const wide = {
    ...close,
    microphones: close.microphones.map((one) => ({ ...one, leadFrames: 200, tailFrames: 400 })),
  };
  const [wider] = run({ ...routed(1, [pass(1)]), turns: wide }, [ones], 4096);
  expect(wider.subarray(800, 3400).every((x) => x === 1)).toBe(true);
  expect(wider[699]).toBe(0);
  expect(wider[3700]).toBe(0);
});

test('what is heard is what is written: 32-bit listening stays within -120 dBFS of the 64-bit renderer', () => {
  const repair: Repair = {
    ...inSections(
      480,
      [1500, 3200],
      [STRAIGHT, FILL, [[{ from: 2, gainDb: -6, polarity: 'inverted' }], pass(1)]],
      'equal-power',
    ),
    trims: [{ channel: 1, gainDb: 2.5, polarity: 'normal', delaySamples: 12.25 }],
    turns: turnsOf([
      [1, 300, 2100],
      [2, 2000, 4800],
    ]),
  };
  const written = run(repair, [LEFT, RIGHT], 1000);
  const listening = new Listening(2);
  listening.setRepair(repair);
  const speakers: [Float32Array, Float32Array] = [new Float32Array(128), new Float32Array(128)];
  const silence = [new Float32Array(128), new Float32Array(128)];
  // The switch to "after" fades in; the clip begins when it is done.
  for (let block = -4; block < 0; block++) listening.process(block * 128, silence, speakers, 128, 'after', 'both');
  let worst = 0;
  for (let start = 0; start + 128 <= FRAMES; start += 128) {
    const inputs = [LEFT, RIGHT].map((x) => Float32Array.from(x.subarray(start, start + 128)));
    listening.process(start, inputs, speakers, 128, 'after', 'both');
    for (let i = 0; i < 128; i++)
      for (const side of [0, 1]) worst = Math.max(worst, Math.abs(speakers[side][i] - written[side][start + i]));
  }
  expect(worst).toBeGreaterThan(0);
  expect(20 * Math.log10(worst)).toBeLessThan(-120);
});

test('5.1 is heard folded to two speakers, without its low-frequency channel', () => {
  const listening = new Listening(6);
  listening.setRepair({ ...leaveAsItIs(6), outputs: [{ ...leaveAsItIs(6).outputs[0], layout: '5.1' }] });
  const inputs = [0.1, 0.02, 0.03, 0.5, 0.05, 0.07].map((x) => new Float32Array(128).fill(x));
  const speakers: [Float32Array, Float32Array] = [new Float32Array(128), new Float32Array(128)];
  for (let block = 0; block < 4; block++) listening.process(block * 128, inputs, speakers, 128, 'after', 'both');
  expect(speakers[0][127]).toBeCloseTo(0.1 + Math.SQRT1_2 * (0.03 + 0.05), 6);
  expect(speakers[1][127]).toBeCloseTo(0.02 + Math.SQRT1_2 * (0.03 + 0.07), 6);
});

test.each([0.1, 0.25, 0.5, 0.75, -0.4])(
  'a delay of %d samples is flat to 0.1 dB up to 0.45 of the rate',
  (delaySamples) => {
    const repair: Repair = { ...leaveAsItIs(1), trims: [{ channel: 1, gainDb: 0, polarity: 'normal', delaySamples }] };
    for (const share of [0.01, 0.1, 0.2, 0.3, 0.4, 0.43, 0.45]) {
      const tone = new Float64Array(4000).map((_, i) => Math.cos(2 * Math.PI * share * i + 0.3));
      const [out] = run(repair, [tone], 512);
      // Least squares against the two phases of the tone.
      let [re, im] = [0, 0];
      for (let i = 1000; i < 3000; i++) {
        re += out[i] * Math.cos(2 * Math.PI * share * i);
        im += out[i] * Math.sin(2 * Math.PI * share * i);
      }
      expect(Math.abs(20 * Math.log10(Math.hypot(re, im) / 1000))).toBeLessThan(0.1);
    }
  },
);
