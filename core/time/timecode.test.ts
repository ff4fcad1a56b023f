import fc from 'fast-check';
import { secondsFromTimecode, timecodeFromSeconds } from './timecode.ts';

const PAL = { numerator: 25, denominator: 1, dropFrame: false };
const NTSC_DROP = { numerator: 30000, denominator: 1001, dropFrame: true };

test.each([
  ['01:00:00:00', PAL, 3600],
  ['10:20:30:12', PAL, 37230.48],
  ['00:01:00;02', NTSC_DROP, (1800 * 1001) / 30000],
  ['00:10:00;00', NTSC_DROP, (17982 * 1001) / 30000],
  // A day of drop-frame is 86.4 ms short of one.
  ['23:59:59;29', NTSC_DROP, (2589407 * 1001) / 30000],
])('%s is that many seconds after midnight', (text, rate, seconds) => {
  expect(secondsFromTimecode(text, rate)).toBeCloseTo(seconds, 9);
  expect(timecodeFromSeconds(seconds, rate)).toBe(text);
});

test('every frame of a day comes back, at every common rate', () => {
  const rates = fc.constantFrom(
    PAL,
    NTSC_DROP,
    { numerator: 24000, denominator: 1001, dropFrame: false },
    { numerator: 60000, denominator: 1001, dropFrame: true },
    { numerator: 50, denominator: 1, dropFrame: false },
  );
  fc.assert(
    fc.property(rates, fc.integer({ min: 0, max: 2_000_000 }), (rate, frame) => {
      const seconds = (frame * rate.denominator) / rate.numerator;
      expect(secondsFromTimecode(timecodeFromSeconds(seconds, rate), rate)).toBeCloseTo(seconds, 6);
    }),
    { numRuns: 500 },
  );
});

test('what is no timecode is none', () => {
  for (const text of ['', 'now', '1:2:3', '00:61:00:00', '00:00:00:25'])
    expect(secondsFromTimecode(text, PAL)).toBeNull();
});
