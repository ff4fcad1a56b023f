import { bucketFrames } from '@pocket-twin/core/outline/outline.ts';
import { OutlineBuilder } from '@pocket-twin/core/outline/outlineBuilder.ts';
import { ClipMeter } from '@pocket-twin/core/measure/stream/clipMeter.ts';
import { INTERLEAVED, interleave } from '@pocket-twin/core/pcm/interleave.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { ColumnSource } from './columns.ts';

// A clip's own outline and samples, answered as the server answers them.
const SIDES = [chatter(0.3, 4.3, 1), noise(0.05, 4.3, 2)].map((side) => side.map(Math.fround));
const FRAMES = SIDES[0].length;
const LANES = [...SIDES, SIDES[0].map((x, i) => x - SIDES[1][i])];
const CLIP = { clipId: 'clip', frames: FRAMES, channels: 2, lanes: 3 };

const levels: number[][] = [];
beforeAll(() => {
  const builder = new OutlineBuilder(2, (level, values) => {
    for (const value of values) (levels[level] ??= []).push(value);
  });
  const meter = new ClipMeter(48000, 2, INTERLEAVED, { onBuckets: builder.push });
  meter.push(interleave(SIDES, FRAMES));
  meter.finish();
  builder.finish();
  globalThis.fetch = ((url: string) => {
    const { pathname, searchParams: asked } = new URL(url, 'http://localhost');
    const number = (name: string): number => Number(asked.get(name));
    const [, level] = /outline\/(\d+)/.exec(pathname) ?? [];
    const floats = level
      ? Float32Array.from(levels[Number(level)].slice(number('from') * 9, number('to') * 9))
      : Float32Array.from(
          SIDES.flatMap((side) => [...side.subarray(number('start'), number('start') + number('frames'))]),
        );
    return Promise.resolve(new Response(floats.buffer));
  }) as typeof fetch;
});

/** Asks until all that is needed has come. */
async function drawn(start: number, end: number, count: number) {
  const source = new ColumnSource(CLIP, () => undefined);
  for (let tries = 0; tries < 20; tries++) {
    const lanes = source.columns({ startFrame: start, endFrame: end }, count);
    if (lanes.every(({ max }) => max.every((value) => !Number.isNaN(value)))) return lanes;
    await new Promise((resolve) => setTimeout(resolve, 1));
  }
  throw new Error('Some columns stayed empty.');
}

test.each([
  ['the whole clip', 0, FRAMES, 180],
  ['a tenth of a second', 96000, 100800, 300],
  ['forty samples', 70000, 70040, 40],
])('a column covers the extremes of all its frames and hardly more: %s', async (_what, start, end, count) => {
  const lanes = await drawn(start, end, count);
  const perColumn = (end - start) / count;
  // A bucket may reach over the column's edges, by less than itself.
  const reach = perColumn < bucketFrames(0) ? 0 : perColumn;
  lanes.forEach(({ min, max, rms }, l) => {
    for (let i = 0; i < count; i++) {
      const [from, to] = [
        Math.floor(start + i * perColumn),
        Math.max(Math.floor(start + i * perColumn) + 1, Math.floor(start + (i + 1) * perColumn)),
      ];
      const own = LANES[l].subarray(from, to);
      const around = LANES[l].subarray(Math.max(0, from - Math.ceil(reach)), to + Math.ceil(reach));
      const [lowest, highest] = [own.reduce((a, b) => Math.min(a, b)), own.reduce((a, b) => Math.max(a, b))];
      expect(min[i]).toBeLessThanOrEqual(lowest + 1e-6);
      expect(max[i]).toBeGreaterThanOrEqual(highest - 1e-6);
      expect(min[i]).toBeGreaterThanOrEqual(around.reduce((a, b) => Math.min(a, b)) - 1e-6);
      expect(max[i]).toBeLessThanOrEqual(around.reduce((a, b) => Math.max(a, b)) + 1e-6);
      expect(rms[i]).toBeLessThanOrEqual(Math.max(Math.abs(min[i]), Math.abs(max[i])) + 1e-6);
    }
  });
});

test('single samples are those of the clip, over the edge of a tile too', async () => {
  const source = new ColumnSource(CLIP, () => undefined);
  const here = (): boolean => source.samples(65530, 12).every((side) => !side.some(Number.isNaN));
  for (let tries = 0; tries < 50 && !here(); tries++) await new Promise((resolve) => setTimeout(resolve, 1));
  const [left, right] = source.samples(65530, 12);
  expect([...left]).toEqual([...SIDES[0].subarray(65530, 65542)]);
  expect([...right]).toEqual([...SIDES[1].subarray(65530, 65542)]);
});
