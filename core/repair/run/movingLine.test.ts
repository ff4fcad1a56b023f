import fc from 'fast-check';
import { inspect, measure, readerOf } from '../../test/inspecting.ts';
import { lookAgain } from '../../measure/pair/lookAgain.ts';
import { voiceByClock } from '../../synth/anyTime.ts';
import { mix } from '../../synth/mono.ts';
import { chatter, hiss } from '../../synth/noise.ts';
import type { Repair } from '../../schema/repair.ts';
import { findOn } from '../propose/findOn.ts';
import { leaveAsItIs } from '../plan/plans.ts';
import { problemWith } from '../plan/problemWith.ts';
import { repairNote } from '../plan/repairNote.ts';
import { Router } from './router.ts';

const RATE = 48_000;
const SINE_HZ = 3000;
const sineAt = (frame: number): number => Math.sin((2 * Math.PI * SINE_HZ * frame) / RATE);

function moving(course: NonNullable<Repair['trims'][number]['course']>, delaySamples: number): Repair {
  return {
    ...leaveAsItIs(1),
    action: 'trim',
    trims: [{ channel: 1, gainDb: 0, polarity: 'normal', delaySamples, course }],
  };
}

/** What a plan makes of sides, its latency taken off, with blocks of these lengths by turns. */
function made(repair: Repair, sides: Float64Array[], blocks = [1024], from = 0): Float64Array[] {
  const router = new Router(repair);
  const frames = sides[0].length;
  const out = Array.from({ length: router.outputChannels }, () => new Float64Array(frames + router.latencyFrames));
  for (let at = from, turn = 0; at < frames + router.latencyFrames; turn++) {
    const count = Math.min(blocks[turn % blocks.length], frames + router.latencyFrames - at);
    const inputs = sides.map((side) => {
      const block = new Float64Array(count);
      block.set(side.subarray(Math.min(at, frames), Math.min(at + count, frames)));
      return block;
    });
    router.process(
      at,
      inputs,
      out.map((side) => side.subarray(at, at + count)),
      count,
    );
    at += count;
  }
  return out.map((side) => side.subarray(router.latencyFrames));
}

test('a delay along a straight line is what it says at every sample, whatever the blocks', () => {
  const sound = Float64Array.from({ length: 60_000 }, (_, i) => sineAt(i));
  fc.assert(
    fc.property(
      fc.double({ min: -200, max: 400, noNaN: true }),
      fc.double({ min: 12, max: 900, noNaN: true }),
      fc.array(fc.integer({ min: 1, max: 5000 }), { minLength: 1, maxLength: 4 }),
      (driftPpm, delaySamples, blocks) => {
        const [out] = made(moving({ driftPpm, jump: null }, delaySamples), [sound], blocks);
        for (let t = 2000; t < 59_000; t += 97)
          expect(Math.abs(out[t] - sineAt(t - delaySamples - driftPpm * 1e-6 * t))).toBeLessThan(2e-5);
      },
    ),
    { numRuns: 12 },
  );
});

test.each([9600, 960, -500, 0.5])('a jump by %d samples comes where it stands, with a fade of 5 ms', (samples) => {
  const sound = Float64Array.from({ length: 60_000 }, (_, i) => sineAt(i));
  const repair = moving({ driftPpm: 0, jump: { atFrame: 30_000, samples } }, 600);
  for (const blocks of [[128], [128, 4000], [16_384], [60_000]]) {
    const [out] = made(repair, [sound], blocks);
    for (const t of [29_000, 29_999]) expect(out[t]).toBeCloseTo(sineAt(t - 600), 4);
    for (const t of [30_256, 31_000, 55_000]) expect(out[t]).toBeCloseTo(sineAt(t - 600 - samples), 4);
  }
});

test('what is heard from the middle on is what is heard there from the start on', () => {
  const sound = chatter(0.1, 4, 3);
  const repair = moving({ driftPpm: 150, jump: { atFrame: 90_000, samples: 700 } }, 20);
  const whole = made(repair, [sound])[0];
  const router = new Router(repair);
  for (const at of [40_000, 89_900, 91_000]) {
    const start = at + router.latencyFrames;
    const back = router.memoryFramesAt(start);
    const part = made(repair, [sound], [512], start - back)[0];
    for (let t = at; t < at + 2000; t++) expect(part[t]).toBeCloseTo(whole[t], 12);
  }
});

/** The plan that lines two sides up, as it is found on them. */
async function linedUp(sides: Float64Array[]) {
  const inspection = await inspect(sides);
  const read = readerOf(sides);
  const found = await findOn(
    leaveAsItIs(2),
    { sections: false, turns: null, lineUp: [1, 2], balance: false },
    inspection,
    {
      read,
      talk: () => Promise.reject(new Error('not asked for')),
      match: (channels) => lookAgain(measure(sides), channels, read),
    },
  );
  if ('whyNot' in found) throw new Error(found.whyNot);
  expect(problemWith(found.repair, inspection.format)).toBeNull();
  return { ...found, inspection, after: await inspect(made(found.repair, sides)) };
}

test.each([
  { ppm: 60, delayMs: 3, seconds: 12 },
  { ppm: -90, delayMs: -8, seconds: 12 },
])('two devices $ppm ppm apart are brought to one clock by lining them up', async ({ ppm, delayMs, seconds }) => {
  const sides = [
    mix(voiceByClock(seconds, RATE, 1, 0), hiss(seconds * RATE, -80, 5)),
    mix(voiceByClock(seconds, RATE, 1 - ppm * 1e-6, delayMs / 1000), hiss(seconds * RATE, -80, 6)),
  ];
  const { repair, notes, inspection, after } = await linedUp(sides);
  expect(repair.trims.find(({ channel }) => channel === 2)!.course!.driftPpm).toBeCloseTo(-ppm, 0);
  expect(notes.join(' ')).toContain(`ppm ${ppm > 0 ? 'behind' : 'ahead'}: it is brought to the other’s clock.`);
  expect(repairNote(repair, inspection)).toContain(`ppm ${ppm > 0 ? 'faster' : 'slower'}`);
  // One clock, in step, and nothing but the noise of each is left.
  const [pair] = after.pairs;
  expect(pair.driftPpm).toBe(0);
  expect(Math.abs(pair.delaySamples)).toBeLessThan(0.2);
  expect(pair.nullDepthDb).toBeLessThan(-40);
});

test.each([
  { before: 48, after: 960 },
  { before: 144, after: -192 },
])('a delay that jumps from $before to $after samples is undone on both sides of the jump', async (delays) => {
  const voice = chatter(0.1, 16, 4);
  const atFrame = 7 * RATE;
  const late = Float64Array.from(voice, (_, i) => 0.9 * (voice[i - (i < atFrame ? delays.before : delays.after)] ?? 0));
  const sides = [mix(voice, hiss(voice.length, -80, 5)), mix(late, hiss(voice.length, -80, 6))];
  const { notes, after } = await linedUp(sides);
  expect(notes.join(' ')).toContain('than before: undone from there on.');
  expect(after.pairs[0].jump).toBeNull();
  expect(after.pairs[0].nullDepthDb).toBeLessThan(-23);
  expect(after.pairs[0].delaySamples).toBeCloseTo(0, 9);
});

test('a delay that would fall under nought on the way is refused with the way out', () => {
  const format = { channels: 1, frames: 480_000, sampleRate: RATE };
  expect(problemWith(moving({ driftPpm: -100, jump: null }, 100), format)).toBeNull();
  for (const repair of [
    moving({ driftPpm: -100, jump: null }, 20),
    moving({ driftPpm: 0, jump: { atFrame: 100, samples: -40 } }, 20),
  ])
    expect(problemWith(repair, format)).toMatch(
      /^This channel would have to come earlier .* let the other channel wait/,
    );
});
