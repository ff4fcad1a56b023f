import { anyEvent } from './test/anyEvent.ts';
import { usedStretches } from './usedStretches.ts';

const event = (startSeconds: number | null, endSeconds: number | null, mediaStartSeconds: number | null = null) =>
  anyEvent({ startSeconds, endSeconds, mediaStartSeconds });
const CLOCK = { startSeconds: 3600, durationSeconds: 60 };

test('stretches with handles that touch are one, and none reaches beyond the recording', () => {
  const events = [event(3601, 3602), event(3604, 3605), event(3603, 3603.5), event(3658, 3660)];
  expect(usedStretches(events, CLOCK, 0.5)).toEqual([
    { startSeconds: 0.5, endSeconds: 5.5 },
    { startSeconds: 57.5, endSeconds: 60 },
  ]);
  expect(usedStretches(events, CLOCK, 0)).toHaveLength(4);
});

test('times count from what the edit says, else from the timecode where they fit it, else from the first sample', () => {
  expect(usedStretches([event(3601, 3602, 3590)], CLOCK, 0)).toEqual([{ startSeconds: 11, endSeconds: 12 }]);
  expect(usedStretches([event(5, 6)], CLOCK, 0)).toEqual([{ startSeconds: 5, endSeconds: 6 }]);
  expect(usedStretches([event(5, 6)], { ...CLOCK, startSeconds: null }, 0)).toEqual([
    { startSeconds: 5, endSeconds: 6 },
  ]);
});

test('what does not say what it uses, or lies beyond the recording, means all of it', () => {
  const whole = [{ startSeconds: 0, endSeconds: 60 }];
  expect(usedStretches([event(null, null)], CLOCK, 1)).toEqual(whole);
  expect(usedStretches([event(9000, 9001)], CLOCK, 1)).toEqual(whole);
});
