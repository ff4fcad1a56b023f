import { cable, fillFrom, leaveAsItIs, routed, sumToMono } from './plans.ts';
import { steadyLevels } from './steadyLevels.ts';

const INPUTS = [
  { loudnessLufs: -20, truePeakDbtp: -3 },
  { loudnessLufs: null, truePeakDbtp: null },
];

test('a channel takes its levels along, by the gains on its way', () => {
  const trims = [{ channel: 1, gainDb: -4, polarity: 'inverted' as const, delaySamples: 2.5 }];
  expect(steadyLevels({ ...fillFrom(1, 2), trims }, INPUTS)).toEqual([
    { loudnessLufs: -24, truePeakDbtp: -7 },
    { loudnessLufs: -24, truePeakDbtp: -7 },
  ]);
  expect(steadyLevels(routed(2, [[], [cable(1, 3)], [cable(2, 9)]]), INPUTS)).toEqual([
    { loudnessLufs: null, truePeakDbtp: null },
    { loudnessLufs: -17, truePeakDbtp: 0 },
    { loudnessLufs: null, truePeakDbtp: null },
  ]);
});

test('what more than one channel, a level target or time has a say in is measured', () => {
  expect(steadyLevels(sumToMono(2), INPUTS)).toBeNull();
  const level = { commonGainDb: null, loudnessLufs: -23, peakDbtp: null, ceilingDbtp: null };
  expect(steadyLevels({ ...leaveAsItIs(2), level }, INPUTS)).toBeNull();
});
