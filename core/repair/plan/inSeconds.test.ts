import fc from 'fast-check';
import { SectionsFile, TurnsFile } from '../../schema/repairFile.ts';
import { Repair } from '../../schema/repair.ts';
import { sameRepair } from './compare.ts';
import { sectionsFromFile, sectionsToFile, turnsFromFile, turnsToFile } from './inSeconds.ts';
import { inLayout } from './layouts.ts';
import { fillFrom, leaveAsItIs, pass, routed, selectChannel, splitToMonos } from './plans.ts';
import { problemWith } from './problemWith.ts';
import { readRoute, writeRoute } from './routeText.ts';
import { turnsOutputOf, turnsPlan } from './turnsPlan.ts';

const CLIP = { channels: 2, frames: 480_000, sampleRate: 48_000 };

test('routes are typed and read back', () => {
  expect(readRoute('1+2@-3')).toEqual([
    { from: 1, gainDb: 0, polarity: 'normal' },
    { from: 2, gainDb: -3, polarity: 'normal' },
  ]);
  expect(readRoute('\u22123@\u22121.5')).toEqual([{ from: 3, gainDb: -1.5, polarity: 'inverted' }]);
  expect(readRoute('')).toEqual([]);
  for (const wrong of ['0', '1++2', '1@', 'left', '1+1', '65', '1@99', '2@-6dB'])
    expect(() => readRoute(wrong)).toThrow();
  fc.assert(
    fc.property(
      fc.uniqueArray(
        fc.record({
          from: fc.integer({ min: 1, max: 64 }),
          gainDb: fc.integer({ min: -600, max: 600 }).map((tenths) => tenths / 10),
          polarity: fc.constantFrom('normal' as const, 'inverted' as const),
        }),
        { selector: ({ from }) => from, maxLength: 8 },
      ),
      (route) => {
        expect(readRoute(writeRoute(route))).toEqual(route.map((cable) => ({ ...cable, gainDb: cable.gainDb + 0 })));
      },
    ),
  );
});

test('turns go out in seconds and come back the same, to the frame, whichever way they are mixed', () => {
  const turns = {
    microphones: [1, 2].map((channel) => ({
      channel,
      closedDb: channel === 1 ? -12 : null,
      ...{ fadeInFrames: 961, fadeOutFrames: 2880, leadFrames: 0, tailFrames: 48 },
    })),
    list: [
      { channel: 1, startFrame: 7, endFrame: 96_001 },
      { channel: 2, startFrame: 90_000, endFrame: 480_000 },
    ],
  };
  for (const output of ['centred', 'sides', 'separate'] as const) {
    const plan = turnsPlan(2, turns, output);
    expect(turnsOutputOf(plan)).toBe(output);
    const file = TurnsFile.parse(JSON.parse(JSON.stringify(turnsToFile(plan, 44_100))));
    const back = turnsPlan(2, turnsFromFile(file, { ...CLIP, sampleRate: 44_100 }), file.output);
    expect(sameRepair(Repair.parse(back), Repair.parse(plan))).toBe(true);
  }
});

test('turns and sections that do not fit are told in one sentence, with the place', () => {
  const turn = (startSeconds: number, endSeconds: number, channel = 1) => ({ channel, startSeconds, endSeconds });
  const of =
    (...turns: ReturnType<typeof turn>[]) =>
    () =>
      turnsFromFile(TurnsFile.parse({ turns }), CLIP);
  expect(of(turn(1, 3), turn(2.5, 4))).toThrow('Two turns of channel 1 overlap at 00:02.50');
  expect(of(turn(1, 3), turn(2.5, 4, 2))).not.toThrow();
  expect(of(turn(1, 11))).toThrow('beyond the clip’s end at 00:10.00');
  expect(of(turn(1, 3, 4))).toThrow('There is no channel 4: the clip has 2.');
  expect(of(turn(3, 3))).toThrow('ends before it begins');
  const section = (startSeconds: number, endSeconds: number, route: Record<string, string>) => () =>
    sectionsFromFile(SectionsFile.parse({ sections: [{ startSeconds, endSeconds, route }] }), CLIP);
  expect(section(1, 12, { 1: '1' })).toThrow('The section at 00:01.00 ends at 00:12.00, beyond the clip’s end');
  expect(section(1, 2, { 1: '3' })).toThrow('There is no channel 3');
});

test('between sections the clip stays as it is; what a section does not name is silent', () => {
  const file = SectionsFile.parse({ sections: [{ startSeconds: 2, endSeconds: 4, route: { 1: '-2' } }] });
  const sections = sectionsFromFile(file, CLIP);
  expect(sections.fadeFrames).toBe(480);
  expect(
    sections.list.map(({ startFrame, endFrame, routes }) => [startFrame, endFrame, routes.map(writeRoute)]),
  ).toEqual([
    [0, 96_000, ['1', '2']],
    [96_000, 192_000, ['-2', '']],
    [192_000, 480_000, ['1', '2']],
  ]);
  const back = sectionsFromFile(SectionsFile.parse(JSON.parse(JSON.stringify(sectionsToFile(sections, 48_000)))), CLIP);
  expect(back).toEqual(sections);
});

test('layouts: mono to both sides at its level, the same on both sides to mono, six channels or none for 5.1', () => {
  expect(inLayout(selectChannel(1, 2), 'stereo').outputs[0].routes).toEqual([pass(1), pass(1)]);
  expect(inLayout(fillFrom(2, 2), 'mono').outputs[0].routes).toEqual([pass(2)]);
  expect(inLayout(splitToMonos(3), 'stereo').outputs.map(({ routes }) => routes.length)).toEqual([2, 2, 2]);
  expect(() => inLayout(leaveAsItIs(2), 'mono')).toThrow('sum them, or choose one');
  expect(() => inLayout(leaveAsItIs(4), 'stereo')).toThrow('route what goes left and right');
  expect(() => inLayout(leaveAsItIs(2), '5.1')).toThrow('this plan makes 2');
  const six = routed(2, [pass(1), pass(2), [], [], pass(1), pass(2)]);
  expect(Repair.parse(inLayout(six, '5.1')).outputs[0].layout).toBe('5.1');
  expect(Repair.safeParse({ ...six, outputs: [{ ...leaveAsItIs(2).outputs[0], layout: '5.1' }] }).success).toBe(false);
});

test('a repair that does not fit a clip says why', () => {
  const trims = [{ channel: 1, gainDb: 0, polarity: 'normal' as const, delaySamples: 500 }];
  expect(problemWith(leaveAsItIs(4), CLIP)).toBe('The repair is for 4 channels and the clip has 2.');
  expect(problemWith({ ...leaveAsItIs(2), trims }, { ...CLIP, frames: 400 })).toMatch('nothing of it would be left');
  const routes = [pass(1), pass(2)];
  const until = (endFrame: number): Repair => ({
    ...leaveAsItIs(2),
    sections: { fadeFrames: 480, list: [{ startFrame: 0, endFrame, fadeIn: 'equal-gain', routes }] },
  });
  expect(problemWith(until(480_000), CLIP)).toBeNull();
  expect(problemWith(until(480_001), CLIP)).toMatch('beyond the clip’s end at 00:10.00');
  expect(problemWith(until(470_000), CLIP)).toMatch('before the clip’s end');
});
