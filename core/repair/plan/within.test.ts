import { cutSection } from './edit.ts';
import type { InputTrim } from '../../schema/repair.ts';
import { leaveAsItIs } from './plans.ts';
import { repairWithin } from './within.ts';

test('sections and turns of a stretch count from its start, and what lies outside is gone', () => {
  const sections = cutSection(cutSection(leaveAsItIs(2), 100, 1000, 10), 600, 1000, 10);
  const { list } = repairWithin(sections, { startFrame: 50, endFrame: 400 }).sections!;
  expect(list.map(({ startFrame, endFrame }) => [startFrame, endFrame])).toEqual([
    [0, 50],
    [50, 350],
  ]);
  const turn = (startFrame: number, endFrame: number) => ({ channel: 1, startFrame, endFrame });
  const turns = { microphones: [], list: [turn(0, 40), turn(300, 900)] };
  expect(repairWithin({ ...leaveAsItIs(2), turns }, { startFrame: 50, endFrame: 400 }).turns!.list).toEqual([
    turn(250, 350),
  ]);
  expect(repairWithin(leaveAsItIs(2), { startFrame: 50, endFrame: 400 })).toEqual(leaveAsItIs(2));
});

test('a delay that moves is another one where a stretch begins, and a jump that lies before it is over', () => {
  const within = (course: NonNullable<InputTrim['course']>, startFrame: number) =>
    repairWithin(
      {
        ...leaveAsItIs(2),
        trims: [{ channel: 2, gainDb: -1, polarity: 'normal', delaySamples: 20, course }],
      },
      { startFrame, endFrame: 2_000_000 },
    ).trims[0];
  expect(within({ driftPpm: 50, jump: null }, 1_000_000)).toEqual({
    ...{ channel: 2, gainDb: -1, polarity: 'normal', delaySamples: 70 },
    course: { driftPpm: 50, jump: null },
  });
  const jump = { atFrame: 500_000, samples: 96 };
  expect(within({ driftPpm: 0, jump }, 400_000).course).toEqual({ driftPpm: 0, jump: { ...jump, atFrame: 100_000 } });
  expect(within({ driftPpm: 0, jump }, 600_000)).toEqual({
    ...{ channel: 2, gainDb: -1, polarity: 'normal', delaySamples: 116 },
  });
});
