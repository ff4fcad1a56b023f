import fc from 'fast-check';
import { Repair } from '../../schema/repair.ts';
import {
  arranged,
  arrangementOf,
  cutSection,
  cutTurn,
  giveTurn,
  moveBoundary,
  moveTurnEdge,
  removeSection,
  removeTurn,
  routeSection,
  withCable,
  withMicrophones,
  withoutSections,
  withTrim,
} from './edit.ts';
import { sameRepair } from './compare.ts';
import { describeParts, planSentence } from './planSentence.ts';
import { fillFrom, leaveAsItIs, pass, selectChannel, splitToMonos, swapSides } from './plans.ts';
import { writeRoute } from './routeText.ts';
import { turnsPlan } from './turnsPlan.ts';

const FRAMES = 100_000;
const on = { gainDb: 0, polarity: 'normal' as const };

test('cables make the plan that they look like, and are called by it', () => {
  const filled = withCable(withCable(leaveAsItIs(2), 1, 2, null), 1, 1, on);
  expect(sameRepair(filled, fillFrom(1, 2))).toBe(true);
  const back = withCable(withCable(filled, 1, 1, null), 1, 2, on);
  expect(sameRepair(back, leaveAsItIs(2))).toBe(true);
  const mixed = withCable(leaveAsItIs(2), 0, 2, { gainDb: -6, polarity: 'normal' });
  expect(mixed.action).toBe('route');
  expect(planSentence(mixed)).toBe('Routed by hand: left from 1 + 2 at −6.0 dB, right from 2.');
  expect(withTrim(leaveAsItIs(2), 2, { polarity: 'inverted' }).action).toBe('trim');
  expect(withTrim(withTrim(leaveAsItIs(2), 2, { gainDb: -3 }), 2, { gainDb: 0 }).action).toBe('leave');
});

test('what is written is arranged anew with what fits of the routes', () => {
  expect(sameRepair(arranged(leaveAsItIs(2), 'separate'), splitToMonos(2))).toBe(true);
  expect(sameRepair(arranged(leaveAsItIs(2), 'mono'), selectChannel(1, 2))).toBe(true);
  expect(sameRepair(arranged(selectChannel(2, 2), 'stereo'), fillFrom(2, 2))).toBe(true);
  const surround = arranged(swapSides(2), '5.1');
  expect(surround.outputs[0].routes.map(writeRoute)).toEqual(['2', '1', '', '', '', '']);
  expect(Repair.safeParse(surround).success).toBe(true);
  for (const one of ['mono', 'stereo', '5.1', 'separate'] as const)
    expect(arrangementOf(arranged(leaveAsItIs(2), one))).toBe(one);
});

test('sections are cut, moved, routed and taken away, and always cover the clip from end to end', () => {
  const step = fc.record({
    what: fc.constantFrom('cut', 'move', 'route', 'remove'),
    at: fc.integer({ min: -500, max: FRAMES + 500 }),
    index: fc.nat(20),
  });
  fc.assert(
    fc.property(fc.array(step, { maxLength: 25 }), (steps) => {
      let repair: Repair = leaveAsItIs(2);
      for (const { what, at, index } of steps) {
        const count = repair.sections?.list.length ?? 0;
        if (what === 'cut') repair = cutSection(repair, at, FRAMES, 480);
        else if (count === 0) continue;
        else if (what === 'move' && count > 1) repair = moveBoundary(repair, 1 + (index % (count - 1)), at);
        else if (what === 'route') repair = routeSection(repair, index % count, [pass(1), pass(1)]);
        else if (what === 'remove') repair = removeSection(repair, index % count);
        expect(Repair.safeParse(repair).error).toBeUndefined();
        const list = repair.sections?.list;
        if (list) expect([list[0].startFrame, list.at(-1)!.endFrame]).toEqual([0, FRAMES]);
      }
      expect(sameRepair(withoutSections(repair), leaveAsItIs(2))).toBe(true);
    }),
  );
});

const microphones = [1, 2].map((channel) => ({
  channel,
  closedDb: -12,
  ...{ fadeInFrames: 10, fadeOutFrames: 10, leadFrames: 0, tailFrames: 0 },
}));
const turn = (channel: number, startFrame: number, endFrame: number) => ({ channel, startFrame, endFrame });
const TALK = turnsPlan(
  2,
  { microphones, list: [turn(1, 0, 1000), turn(2, 900, 3000), turn(1, 3000, 5000)] },
  'centred',
);
const shown = (repair: Repair) =>
  repair.turns!.list.map(({ channel, startFrame, endFrame }) => [channel, startFrame, endFrame]);

test('a turn is handed over, cut, taken away, and its edges stop at its neighbours', () => {
  expect(shown(giveTurn(TALK, 1, 1))).toEqual([[1, 0, 5000]]);
  expect(shown(giveTurn(TALK, 0, 2))).toEqual([
    [2, 0, 3000],
    [1, 3000, 5000],
  ]);
  expect(shown(cutTurn(TALK, 1, 2000))).toHaveLength(4);
  expect(cutTurn(TALK, 1, 5000)).toBe(TALK);
  expect(shown(removeTurn(TALK, 0))).toHaveLength(2);
  expect(shown(moveTurnEdge(TALK, 2, 'startFrame', 10, FRAMES))[1]).toEqual([2, 900, 3000]);
  expect(shown(moveTurnEdge(TALK, 2, 'startFrame', 10, FRAMES))).toContainEqual([1, 1000, 5000]);
  expect(shown(moveTurnEdge(TALK, 0, 'endFrame', 9999, FRAMES))).toContainEqual([1, 0, 3000]);
  expect(shown(moveTurnEdge(TALK, 2, 'endFrame', 10 ** 9, FRAMES))).toContainEqual([1, 3000, FRAMES]);
  for (const repair of [giveTurn(TALK, 1, 1), giveTurn(TALK, 0, 2), cutTurn(TALK, 1, 2000)])
    expect(Repair.safeParse(repair).error).toBeUndefined();
  expect(withMicrophones(TALK, { closedDb: null }).turns!.microphones.every(({ closedDb }) => closedDb === null)).toBe(
    true,
  );
  const [first, second] = withMicrophones(TALK, { leadFrames: 77 }, 2).turns!.microphones;
  expect([first.leadFrames, second.leadFrames]).toEqual([TALK.turns!.microphones[0].leadFrames, 77]);
});

test('a plan is one sentence, and each part of it says what it holds while it is folded', () => {
  const level = { commonGainDb: null, loudnessLufs: -23, peakDbtp: null, ceilingDbtp: -1 };
  const plan = { ...withTrim(fillFrom(1, 2), 1, { gainDb: 2, delaySamples: 3 }), level };
  expect(planSentence(plan)).toBe('Fill right from left, at −23.0 LUFS; 1 by 2.0 dB moved 3 samples later.');
  expect(describeParts(plan)).toEqual({
    routes: 'stereo',
    trim: '1 by 2.0 dB moved 3 samples later',
    time: null,
    level: '−23.0 LUFS',
  });
  expect(describeParts(leaveAsItIs(2))).toEqual({ routes: null, trim: null, time: null, level: null });
  expect(describeParts(TALK).time).toBe('3 turns');
  expect(planSentence(cutSection(leaveAsItIs(2), 500, FRAMES, 480))).toBe('2 sections: as it is, as it is.');
});
