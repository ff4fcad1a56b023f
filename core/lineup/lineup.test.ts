import type { Sketch } from '../schema/sketch.ts';
import { inspect } from '../test/inspecting.ts';
import { chatter, noise } from '../synth/noise.ts';
import { sayDuration } from '../time/sayTime.ts';
import { lineupHead, type HeadClip } from './lineupHead.ts';
import { playsWrong, standingOf, type StandingFacts } from './standing.ts';
import { summarise } from './summarise.ts';
import { tellingSpan } from './tellingSpan.ts';

const clip = (rest: Partial<HeadClip> = {}): HeadClip => ({
  id: 'any',
  standing: 'fine',
  severity: null,
  cause: null,
  lost: false,
  ...rest,
});
const wrong = (cause: string, standing: HeadClip['standing'] = 'open'): HeadClip =>
  clip({ severity: 'fix', cause, standing });
const MICROPHONE = 'One microphone on input 1 of a two-input recorder set to stereo.';

test('the headline counts what would play wrong and names the cause that most share', () => {
  const clips = [
    ...Array<HeadClip>(3).fill(wrong(MICROPHONE)),
    wrong('A widening effect.', 'look'),
    clip(),
    clip({ standing: 'look' }),
    clip({ standing: 'unreadable' }),
  ];
  expect(lineupHead(clips)).toEqual({
    headline: '4 of 7 clips would play wrong.',
    detail:
      '3 share one cause: one microphone on input 1 of a two-input recorder set to stereo. 1 of them needs a look first. 1 more needs a look. 1 could not be read.',
  });
});

test('what would play wrong gets less as repairs are kept and written, and is never called well too soon', () => {
  expect(lineupHead([wrong('x', 'kept'), wrong('y'), clip()])).toEqual({
    headline: '1 of 3 clips would play wrong.',
    detail: '1 has a repair kept.',
  });
  expect(lineupHead([wrong('x', 'look'), clip()]).detail).toBe('It needs a look first.');
  expect(lineupHead([wrong('x', 'look'), wrong('y', 'look')]).detail).toBe('All of them need a look first.');
  expect(lineupHead([wrong(MICROPHONE, 'kept'), wrong(MICROPHONE, 'written')])).toEqual({
    headline: 'Nothing would play wrong any more.',
    detail: '1 has a repair kept. 1 is written.',
  });
  expect(lineupHead([clip(), clip({ standing: 'measuring' })])).toEqual({
    headline: 'Nothing so far would play wrong.',
    detail: '1 still being measured.',
  });
  expect(lineupHead([clip({ standing: 'open' })])).toEqual({
    headline: 'Nothing would play wrong.',
    detail: '1 plays right and could be simpler.',
  });
  expect(lineupHead([clip({ standing: 'measuring' })]).headline).toBe('Measuring ...');
  expect(lineupHead([clip({ standing: 'unreadable' })]).headline).toBe('Nothing could be read.');
  expect(lineupHead([clip({ lost: true })]).detail).toBe('1 linked file has moved or changed.');
});

test('a clip stands in one place, and only what is undecided can play wrong', () => {
  const facts = (rest: Partial<StandingFacts> = {}): StandingFacts => ({
    state: 'ready',
    suggestion: { action: 'fill', name: 'Fill right from left' },
    kept: false,
    verified: false,
    ...rest,
  });
  const cases: [StandingFacts, ReturnType<typeof standingOf>][] = [
    [facts(), 'open'],
    [facts({ suggestion: { action: 'review', name: null } }), 'look'],
    [facts({ suggestion: { action: 'none', name: null } }), 'fine'],
    [facts({ kept: true }), 'kept'],
    [facts({ kept: true, verified: true }), 'written'],
    [facts({ verified: true }), 'open'],
    [facts({ suggestion: { action: 'none', name: null }, kept: true }), 'kept'],
    [facts({ suggestion: null }), 'measuring'],
    [facts({ state: 'waiting', kept: true }), 'measuring'],
    [facts({ state: 'reading' }), 'measuring'],
    [facts({ state: 'failed', suggestion: null }), 'unreadable'],
  ];
  for (const [given, standing] of cases) {
    expect(standingOf(given)).toBe(standing);
    expect(playsWrong({ standing, severity: 'fix' })).toBe(standing === 'open' || standing === 'look');
    expect(playsWrong({ standing, severity: 'note' })).toBe(false);
  }
});

test('a row says what the inspection says, and what the suggested repair is called', async () => {
  const inspection = await inspect([chatter(0.1, 4, 1), noise(0.0006, 4, 2)]);
  const sketch: Sketch = [1, 2].map((channel) => ({ channel, peaksDbfs: Array<number>(96).fill(-30) }));
  expect(summarise(inspection, sketch)).toMatchObject({
    verdict: 'one-sided',
    side: 'left',
    severity: 'fix',
    headline: 'Only the left side carries sound.',
    suggestion: { action: 'fill', name: 'Fill right from left' },
    channels: [
      { channel: 1, content: 'programme' },
      { channel: 2, content: 'noise' },
    ],
    telling: { startSeconds: 0, endSeconds: 4 },
  });
});

test('who has cut already hears first of what is wrong in the edit, and for how long', () => {
  const clips = [
    { ...wrong(MICROPHONE), id: 'a' },
    { ...wrong(MICROPHONE), id: 'b' },
    { ...wrong(MICROPHONE), id: 'not cut' },
    { ...clip(), id: 'c' },
  ];
  expect(lineupHead(clips, { a: 100, b: 92.2, c: 500 }).detail).toMatch(
    /^2 clips are in the edit and would play wrong, for 3 min 12 s of it\./,
  );
  expect(lineupHead(clips, { c: 500 }).detail).toMatch(/^The clip in the edit plays right\./);
  expect(lineupHead(clips, {}).detail).toMatch(/^The edit uses none of these clips\./);
  expect(lineupHead(clips).detail).not.toContain('edit');
});

test('durations are said as one says them', () => {
  expect([0.84, 9.96, 59.4, 60, 192.2, 3600, 3725].map(sayDuration)).toEqual([
    '0.8 s',
    '10 s',
    '59 s',
    '1 min',
    '3 min 12 s',
    '1 h',
    '1 h 2 min',
  ]);
});

const sketchOf = (...peaks: ((column: number) => number | null)[]): Sketch =>
  peaks.map((at, c) => ({ channel: c + 1, peaksDbfs: Array.from({ length: 96 }, (_, column) => at(column)) }));
const facts = (rest: object = {}) =>
  ({ format: { durationSeconds: 96 }, sections: [], findings: [], ...rest }) as unknown as Parameters<
    typeof tellingSpan
  >[0];

test('the telling ten seconds are where most is heard, on both sides if both carry something, or around what changes', () => {
  const loud = tellingSpan(
    facts(),
    sketchOf((c) => (c >= 40 && c < 50 ? -6 : -50)),
  );
  expect(loud).toEqual({ startSeconds: 40, endSeconds: 50 });
  const both = tellingSpan(
    facts(),
    sketchOf(
      (c) => (c < 60 ? -10 : -12),
      (c) => (c >= 70 && c < 80 ? -12 : null),
    ),
  );
  expect(both.startSeconds).toBe(70);
  expect(
    tellingSpan(
      facts({ findings: [{ code: 'dropout', startSeconds: 50 }] }),
      sketchOf(() => -20),
    ).startSeconds,
  ).toBe(47);
  expect(
    tellingSpan(
      facts({ sections: [{ startSeconds: 0 }, { startSeconds: 95 }] }),
      sketchOf(() => -20),
    ),
  ).toEqual({ startSeconds: 86, endSeconds: 96 });
});
