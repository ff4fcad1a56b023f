import type { ChannelReport } from '../../schema/inspection.ts';
import { matchedGainsDb } from './matchedLoudness.ts';

const channel = (loudnessLufs: number | null, truePeakDbtp: number | null, content = 'programme') =>
  ({ content, loudnessLufs, truePeakDbtp }) as ChannelReport;

test('all that speak come to the loudness of the loudest where their peaks allow it', () => {
  expect(matchedGainsDb([channel(-20, -6), channel(-32, -18)])).toEqual([0, 12]);
});

test('where a peak is in the way all come down alike, and nothing passes −1 dBTP by being raised', () => {
  const channels = [channel(-18, -4), channel(-30, -6), channel(-24, -3)];
  const gains = matchedGainsDb(channels);
  const levels = channels.map(({ loudnessLufs }, i) => loudnessLufs! + gains[i]);
  expect(new Set(levels).size).toBe(1);
  channels.forEach(({ truePeakDbtp }, i) => expect(truePeakDbtp! + Math.max(0, gains[i])).toBeLessThanOrEqual(-1));
  expect(levels[0]).toBe(-25);
});

test('noise and silence stay as they are, and a hot channel is not raised', () => {
  expect(matchedGainsDb([channel(-20, -6), channel(-60, -50, 'noise'), channel(null, null, 'silent')])).toEqual([
    0, 0, 0,
  ]);
  expect(matchedGainsDb([channel(-12, 0.5), channel(-20, -10)])).toEqual([0, 8]);
  expect(matchedGainsDb([channel(-60, -50, 'noise')])).toEqual([0]);
});
