import { exactPlan } from '../plan/exactPlan.ts';
import { writeRoute } from '../plan/routeText.ts';
import { leaveAsItIs } from '../plan/plans.ts';
import { Router } from '../run/router.ts';
import { mix, RATE, type Mono } from '../../synth/mono.ts';
import { chatter, noise } from '../../synth/noise.ts';
import { inspect, readerOf } from '../../test/inspecting.ts';
import { balance } from './balance.ts';
import { proposeSections } from './sections.ts';

const SECONDS = 10;
const VOICE = mix(chatter(0.12, SECONDS, 1), noise(0.002, SECONDS, 2));

async function proposed(left: Mono, right: Mono) {
  const sections = await proposeSections(await inspect([left, right]), readerOf([left, right]));
  return (
    sections && {
      sections,
      said: sections.list.map(({ startFrame, endFrame, routes, fadeIn }) => ({
        startSeconds: startFrame / RATE,
        endSeconds: endFrame / RATE,
        routes: routes.map(writeRoute).join(' | '),
        fadeIn,
      })),
    }
  );
}

/** The right side as a change from the left one. */
const changed = (from: number, to: number, change: (x: number, i: number) => number): Mono =>
  VOICE.map((x, i) => (i >= from * RATE && i < to * RATE ? change(x, i) : x));

test('a side that drops out is filled while it is gone, to the millisecond, and nowhere else', async () => {
  const right = changed(3.237, 6.914, () => 0);
  const found = (await proposed(VOICE, right))!;
  expect(found.said.map(({ routes }) => routes)).toEqual(['1 | 2', '1 | 1', '1 | 2']);
  // The fades lie where the side is still there: the fill reaches half of one beyond the loss.
  expect(found.said[1].startSeconds).toBeGreaterThan(3.237 - 0.009);
  expect(found.said[1].startSeconds).toBeLessThanOrEqual(3.237 - 0.004);
  expect(found.said[1].endSeconds).toBeLessThan(6.914 + 0.009);
  expect(found.said[1].endSeconds).toBeGreaterThanOrEqual(6.914 + 0.004);
  expect(found.said.map(({ fadeIn }) => fadeIn)).toEqual(['equal-gain', 'equal-gain', 'equal-gain']);
  const repair = { ...leaveAsItIs(2), sections: found.sections };
  expect(exactPlan(repair)).toBeNull();
  const out = [new Float64Array(VOICE.length), new Float64Array(VOICE.length)];
  new Router(repair).process(0, [VOICE, right], out, VOICE.length);
  // What was lost is the left side's; the joints are not heard, since both sides carry the same there.
  const worst = out[1].reduce((most, x, i) => Math.max(most, Math.abs(x - VOICE[i])), 0);
  expect(worst).toBeLessThan(1e-9);
});

test.each([
  { what: 'nothing', rms: 0, seconds: 0.3 },
  { what: 'hiss', rms: 0.0008, seconds: 0.3 },
  { what: 'hiss', rms: 0.0008, seconds: 0.8 },
])(
  'moments of $seconds s that a copy loses to $what are filled while they last, each of them',
  async ({ rms, seconds }) => {
    const starts = [0.35, 0.35 + seconds + 0.3, 3.3, 6.2];
    const instead = noise(rms, SECONDS, 9);
    const isLost = (i: number): boolean => starts.some((start) => i >= start * RATE && i < (start + seconds) * RATE);
    const right = VOICE.map((x, i) => (isLost(i) ? instead[i] : x));
    for (const [lost, sides] of [
      [1, [right, VOICE]],
      [2, [VOICE, right]],
    ] as const) {
      const found = (await proposed(sides[0], sides[1]))!;
      const whole = 3 - lost;
      expect(found.said.map(({ routes }) => routes).filter((routes) => routes !== '1 | 2')).toEqual(
        starts.map(() => `${whole} | ${whole}`),
      );
      const out = [new Float64Array(VOICE.length), new Float64Array(VOICE.length)];
      new Router({ ...leaveAsItIs(2), action: 'route', sections: found.sections }).process(0, sides, out, VOICE.length);
      const off = out[lost - 1].reduce((count, x, i) => count + Number(Math.abs(x - VOICE[i]) > 0.01), 0);
      expect(off).toBeLessThan(0.002 * RATE * starts.length);
    }
  },
);

test('polarity that flips part-way is undone from there on', async () => {
  const found = (await proposed(
    VOICE,
    changed(4.1, SECONDS, (x) => -x),
  ))!;
  expect(found.said.map(({ routes }) => routes)).toEqual(['1 | 2', '1 | -2']);
  expect(found.said[1].startSeconds).toBeCloseTo(4.1, 2);
});

test('a microphone that moves to the other side is followed', async () => {
  const hiss = noise(0.0004, SECONDS, 5);
  const at = 5.05 * RATE;
  const left = VOICE.map((x, i) => (i < at ? x : hiss[i]));
  const right = VOICE.map((x, i) => (i < at ? hiss[i] : x));
  expect((await proposed(left, right))!.said.map(({ routes }) => routes)).toEqual(['1 | 1', '2 | 2']);
});

test('nothing is proposed where nothing changes, or the clip is not stereo', async () => {
  expect(await proposed(VOICE, VOICE)).toBeNull();
  expect(await proposeSections(await inspect([VOICE]), readerOf([VOICE]))).toBeNull();
});

test('sides are brought to one loudness, down, up or in the middle, and what it costs is said', async () => {
  const inspection = await inspect([VOICE, VOICE.map((x) => x / 2)]);
  const gains = (way: 'down' | 'up' | 'middle', wanted = 0) =>
    balance(inspection, [1, 2], way, wanted)!.trims.map(({ channel, gainDb }) => [channel, Number(gainDb.toFixed(2))]);
  expect(gains('down')).toEqual([[1, -6.02]]);
  expect(gains('up')).toEqual([[2, 6.02]]);
  expect(gains('middle')).toEqual([
    [1, -3.01],
    [2, 3.01],
  ]);
  expect(gains('down', 2)).toEqual([[1, -4.02]]);
  const up = balance(inspection, [1, 2], 'up')!;
  expect(up.noiseFloorDbfs).toBeCloseTo(inspection.channels[0].noiseFloorDbfs!, 1);
  expect(up.truePeakDbtp).toBeCloseTo(inspection.channels[0].truePeakDbtp!, 1);
  expect(balance(inspection, [1, 2], 'down')!.noiseFloorDbfs).toBeNull();
});
