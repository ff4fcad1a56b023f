import fc from 'fast-check';
import { fillFrom, leaveAsItIs, pass, routed, selectChannel, splitToMonos, sumToMono } from '../repair/plan/plans.ts';
import { addTrims, NO_TRIM } from '../repair/plan/trims.ts';
import type { Repair } from '../schema/repair.ts';
import { becomesMono, onTracks, withMonoGain, type WantedTracks } from './onTracks.ts';

const SAME: WantedTracks = { tracks: 'same', hasVideo: false, isInEdit: false, mayBeSeveral: true };
const stereo = [{ channels: 2, language: null }];
const routesOf = (repair: Repair | null) =>
  repair?.outputs.map(({ routes }) => routes.map((route) => route.map(({ from }) => from).join('+')));

test.each<[string, Repair, typeof stereo, string[] | null]>([
  ['left only comes on both', selectChannel(1, 2), stereo, ['1', '1']],
  ['a sum comes on both', sumToMono(2), stereo, ['1+2', '1+2']],
  ['a split is what it was', splitToMonos(2), stereo, null],
  ['eight channels stay eight', selectChannel(3, 8), [{ channels: 8, language: null }], Array<string>(8).fill('3')],
  ['mono that was filled is mono', fillFrom(1, 1), [{ channels: 1, language: null }], null],
  ['a pair of four is repeated', splitToMonos(4, [1, 2]), [{ channels: 4, language: null }], ['1', '2', '1', '2']],
])('on the same tracks %s', (_what, repair, streams, routes) => {
  expect(routesOf(onTracks(repair, streams, SAME))?.flat() ?? null).toEqual(routes);
});

const languages = [
  { channels: 2, language: 'eng' },
  { channels: 2, language: 'fra' },
];

test('streams of two languages stay by themselves, whichever tracks are asked for', () => {
  for (const tracks of ['same', 'repaired'] as const)
    expect(routesOf(onTracks(selectChannel(1, 4), languages, { ...SAME, tracks }))).toEqual([['1', '1', '3', '4']]);
  expect(onTracks(splitToMonos(4), languages, SAME)).toBeNull();
});

test('of any plan no stream of another language takes a channel, and as many channels come as there were', () => {
  const plan = fc.oneof(
    fc.integer({ min: 1, max: 4 }).map((channel) => selectChannel(channel, 4)),
    fc.constant(splitToMonos(4)),
    fc.array(fc.integer({ min: 1, max: 4 }), { minLength: 1, maxLength: 4 }).map((from) => routed(4, from.map(pass))),
  );
  fc.assert(
    fc.property(plan, (repair) => {
      const laid = onTracks(repair, languages, SAME) ?? leaveAsItIs(4);
      const routes = laid.outputs.flatMap((output) => output.routes);
      expect(routes).toHaveLength(4);
      routes.forEach((route, i) => {
        for (const { from } of route) expect(from > 2).toBe(i >= 2);
      });
    }),
  );
});

test('where nobody says, films and what an edit uses keep their tracks; a list without room gets one file of all', () => {
  const usual = { ...SAME, tracks: null };
  expect(routesOf(onTracks(splitToMonos(2), stereo, usual))).toEqual([['1'], ['2']]);
  expect(onTracks(splitToMonos(2), stereo, { ...usual, hasVideo: true })).toBeNull();
  expect(onTracks(splitToMonos(2), stereo, { ...usual, isInEdit: true })).toBeNull();
  const trimmed = { ...splitToMonos(2), trims: addTrims([], [{ ...NO_TRIM, channel: 2, gainDb: -3 }]) };
  const one = onTracks(trimmed, stereo, { ...usual, mayBeSeveral: false });
  expect([routesOf(one), one!.action]).toEqual([[['1', '2']], 'trim']);
});

test('what becomes mono is raised for programs that lower it, and nothing else', () => {
  const raised = withMonoGain(selectChannel(1, 2), 3);
  expect(raised.outputs[0].routes[0][0].gainDb).toBe(3);
  expect(becomesMono(raised)).toBe(true);
  expect(withMonoGain(fillFrom(1, 2), 3)).toEqual(fillFrom(1, 2));
  expect(withMonoGain(leaveAsItIs(1), 3)).toEqual(leaveAsItIs(1));
});
