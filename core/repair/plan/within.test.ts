import { cutSection } from './edit.ts';
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
