import fc from 'fast-check';
import { moved, whole, zoomed, type View } from './view.ts';

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
    return { frames, view: { start, end: start + length } };
  });
const inside = ({ start, end }: View, frames: number): boolean =>
  start >= -1e-6 && end <= frames + 1e-6 * frames && end > start;

test('zooming keeps the frame under the pointer where it is, as far as the clip’s ends allow, and never leaves the clip', () => {
  fc.assert(
    fc.property(
      someView,
      fc.double({ min: 0.05, max: 20, noNaN: true }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      ({ frames, view }, factor, share) => {
        const around = view.start + share * (view.end - view.start);
        const next = zoomed(view, factor, around, frames);
        expect(inside(next, frames)).toBe(true);
        const stopped = next.start <= 1e-6 || next.end >= frames - 1e-6 * frames;
        if (!stopped) expect((around - next.start) / (next.end - next.start)).toBeCloseTo(share, 4);
      },
    ),
  );
});

test('in and out again by the same factor is where one was, away from the ends', () => {
  const view = { start: 40_000, end: 50_000 };
  const back = zoomed(zoomed(view, 0.25, 43_000, 100_000), 4, 43_000, 100_000);
  expect([back.start, back.end]).toEqual([expect.closeTo(40_000, 6), expect.closeTo(50_000, 6)]);
});

test('no zoom goes further in than 24 samples or further out than the clip', () => {
  expect(zoomed(whole(48_000), 1e-9, 100, 48_000)).toMatchObject({
    start: expect.closeTo(100 - 24 * (100 / 48_000), 6),
  });
  expect(zoomed({ start: 0, end: 24 }, 0.5, 3, 48_000)).toEqual({ start: 0, end: 24 });
  expect(zoomed({ start: 10, end: 40_000 }, 50, 300, 48_000)).toEqual(whole(48_000));
});

test('moving keeps the length and stops at the ends', () => {
  expect(moved({ start: 100, end: 300 }, -500, 1000)).toEqual({ start: 0, end: 200 });
  expect(moved({ start: 100, end: 300 }, 5000, 1000)).toEqual({ start: 800, end: 1000 });
});
