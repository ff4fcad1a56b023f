import fc from 'fast-check';
import { inside, moved, whole, zoomed } from './view.ts';
import type { FrameSpan } from '@pocket-twin/core/time/spans.ts';

const clip = fc.integer({ min: 100, max: 10_000_000 });
const someView = clip
  .chain((frames) =>
    fc.record({
      frames: fc.constant(frames),
      share: fc.double({ min: 0.01, max: 1, noNaN: true }),
      at: fc.double({ min: 0, max: 1, noNaN: true }),
    }),
  )
  .map(({ frames, share, at }) => {
    const length = Math.max(24, share * frames);
    const start = at * (frames - length);
    return { frames, view: { startFrame: start, endFrame: start + length } };
  });
const isInside = ({ startFrame: start, endFrame: end }: FrameSpan, frames: number): boolean =>
  start >= -1e-6 && end <= frames + 1e-6 * frames && end > start;

test('zooming keeps the frame under the pointer where it is, as far as the clip’s ends allow, and never leaves the clip', () => {
  fc.assert(
    fc.property(
      someView,
      fc.double({ min: 0.05, max: 20, noNaN: true }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      ({ frames, view }, factor, share) => {
        const around = view.startFrame + share * (view.endFrame - view.startFrame);
        const next = zoomed(view, factor, around, frames);
        expect(isInside(next, frames)).toBe(true);
        const stopped = next.startFrame <= 1e-6 || next.endFrame >= frames - 1e-6 * frames;
        if (!stopped) expect((around - next.startFrame) / (next.endFrame - next.startFrame)).toBeCloseTo(share, 4);
      },
    ),
  );
});

test('in and out again by the same factor is where one was, away from the ends', () => {
  const view = { startFrame: 40_000, endFrame: 50_000 };
  const back = zoomed(zoomed(view, 0.25, 43_000, 100_000), 4, 43_000, 100_000);
  expect([back.startFrame, back.endFrame]).toEqual([expect.closeTo(40_000, 6), expect.closeTo(50_000, 6)]);
});

test('no zoom goes further in than 24 samples or further out than the clip', () => {
  expect(zoomed(whole(48_000), 1e-9, 100, 48_000)).toMatchObject({
    startFrame: expect.closeTo(100 - 24 * (100 / 48_000), 6),
  });
  expect(zoomed({ startFrame: 0, endFrame: 24 }, 0.5, 3, 48_000)).toEqual({ startFrame: 0, endFrame: 24 });
  expect(zoomed({ startFrame: 10, endFrame: 40_000 }, 50, 300, 48_000)).toEqual(whole(48_000));
});

test('moving keeps the length and stops at the ends', () => {
  expect(moved({ startFrame: 100, endFrame: 300 }, -500, 1000)).toEqual({ startFrame: 0, endFrame: 200 });
  expect(moved({ startFrame: 100, endFrame: 300 }, 5000, 1000)).toEqual({ startFrame: 800, endFrame: 1000 });
});

test('a place at an end of the clip is shown with what room there is, and never closer than 24 samples', () => {
  expect(inside({ startFrame: -50, endFrame: 200 }, 1000)).toEqual({ startFrame: 0, endFrame: 200 });
  expect(inside({ startFrame: 900, endFrame: 1200 }, 1000)).toEqual({ startFrame: 900, endFrame: 1000 });
  expect(inside({ startFrame: 500, endFrame: 502 }, 1000)).toEqual({ startFrame: 500, endFrame: 524 });
  expect(inside({ startFrame: 998, endFrame: 1000 }, 1000)).toEqual({ startFrame: 976, endFrame: 1000 });
});
