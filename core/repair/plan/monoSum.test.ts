import { fillFrom } from './plans.ts';
import { monoSumOf, sumLossOf } from './monoSum.ts';

const levels = (...all: (number | null)[]) => all.map((loudnessLufs) => ({ loudnessLufs, truePeakDbtp: loudnessLufs }));

test('a sum loses nothing of what is the same on both, 6 dB where one is silent, everything where they cancel', () => {
  expect(sumLossOf(levels(-20, -20, -20))).toBe(0);
  expect(sumLossOf(levels(-20, null, -26))).toBe(6);
  expect(sumLossOf(levels(-20, -24, null))).toBeNull();
});

test('it is the trimmed channels that are summed, whatever they are routed to', () => {
  const trims = [{ channel: 2, gainDb: 0, polarity: 'normal' as const, delaySamples: 7 }];
  const { outputs, trims: kept } = monoSumOf({ ...fillFrom(1, 4), trims });
  expect(kept).toEqual(trims);
  expect(outputs[0].routes.map((route) => route.map(({ from }) => from))).toEqual([[1], [2], [1, 2]]);
});
