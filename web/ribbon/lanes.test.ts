import { laneOf, leastRibbonPixels, pairLanes } from './lanes.ts';

test('a stereo ribbon leaves room for what differs, mono and more channels fill it', () => {
  expect(laneOf(1, 2, [])).toEqual({ top: 0, height: 0.42 });
  expect(laneOf(2, 2, [])).toEqual({ top: 0.42, height: 0.42 });
  expect(laneOf(1, 1, [])).toEqual({ top: 0, height: 1 });
  expect(laneOf(4, 4, [])).toEqual({ top: 0.75, height: 0.25 });
  expect(leastRibbonPixels(4, [])).toBe(0);
});

test('lanes follow each other without gap or overlap, whatever is folded; a last single channel has a pair’s room', () => {
  for (const channels of [3, 5, 7, 8, 24])
    for (const folded of [[], [0], [1, 2], Array.from({ length: 12 }, (_, i) => i)]) {
      let end = 0;
      for (const lane of pairLanes(channels, folded)) {
        expect(lane.top).toBeCloseTo(end, 9);
        end = lane.top + lane.height;
      }
      expect(end).toBeCloseTo(1, 9);
    }
  expect(laneOf(5, 5, []).height).toBeCloseTo(2 * laneOf(4, 5, []).height, 9);
});

test('a folded pair gives its room to the others, and a ribbon of many channels gets lower', () => {
  expect(laneOf(3, 6, [1]).height).toBeLessThan(laneOf(1, 6, [1]).height / 3);
  expect(leastRibbonPixels(24, [1, 2, 3])).toBeLessThan(leastRibbonPixels(24, []));
  expect(pairLanes(6, [1]).map(({ isFolded, channels }) => [isFolded, channels])).toEqual([
    [false, [1, 2]],
    [true, [3, 4]],
    [false, [5, 6]],
  ]);
});
