import fc from 'fast-check';
import { noise } from '../../synth/noise.ts';
import { timecodeSound } from '../../synth/timecodeSound.ts';
import { FRAME_RATES } from '../../time/frameRates.ts';
import { timecodeFromSeconds } from '../../time/timecode.ts';
import { readTimecodeSound } from './timecodeSound.ts';

const RATES = FRAME_RATES.filter(({ rate }) => rate.numerator / rate.denominator < 31);
const thirty = RATES.find(({ rate }) => rate.numerator / rate.denominator === 30)!;

test('timecode is read right at every rate, level, polarity and sample rate, wherever the stretch begins', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...RATES),
      fc.integer({ min: 0, max: 86_390 }),
      fc.constantFrom(44_100, 48_000, 96_000),
      fc.double({ min: -50, max: 0, noNaN: true }),
      fc.boolean(),
      fc.integer({ min: 0, max: 4000 }),
      ({ rate }, startSeconds, sampleRate, levelDb, upsideDown, skipped) => {
        const gain = (upsideDown ? -1 : 1) * 10 ** (levelDb / 20);
        const hissed = noise(0.02, 1, 7);
        const sound = timecodeSound(Math.round(0.3 * sampleRate), startSeconds, rate, sampleRate)
          .map((x, i) => gain * (x + hissed[i]))
          .subarray(skipped);
        const found = readTimecodeSound(sound, sampleRate)!;
        expect(found).not.toBeNull();
        expect(found.rate).toEqual(rate);
        // What was put there at that sample: frames are counted, whatever a second has of them.
        const perSecond = rate.numerator / rate.denominator;
        const first = Math.floor((startSeconds + 1e-4) * perSecond);
        const count = first + Math.round(((skipped + found.startSample) / sampleRate) * perSecond);
        expect(found.label).toBe(timecodeFromSeconds((count + 0.5) / perSecond, rate));
      },
    ),
    // Seen to be read as 29.97 frames a second, by the length of one frame.
    { numRuns: 60, examples: [[thirty, 0, 96_000, 0, false, 3159]] },
  );
});

test('frames that do not count on are no timecode: a voice can make one by chance', () => {
  const rate = RATES[1].rate;
  const frame = (48_000 * rate.denominator) / rate.numerator;
  const pieces = [10, 50_000, 300, 7200, 41, 80_000].map((startSeconds) =>
    timecodeSound(Math.round(2 * frame), startSeconds, rate, 48_000).subarray(0, Math.round(1.02 * frame)),
  );
  const sound = new Float64Array(pieces.reduce((sum, { length }) => sum + length, 0));
  pieces.reduce((at, piece) => (sound.set(piece, at), at + piece.length), 0);
  expect(readTimecodeSound(sound, 48_000)).toBeNull();
  // The same two frames long is one.
  expect(readTimecodeSound(timecodeSound(Math.round(3.1 * frame), 10, rate, 48_000), 48_000)).not.toBeNull();
});

test('what is no timecode is not read as one: noise, tones, square waves, silence', () => {
  const square = new Float64Array(12_000).map((_, i) => Math.sign(Math.sin((2 * Math.PI * 1000 * i) / 48_000)));
  for (const sound of [noise(0.1, 0.25, 3), square, new Float64Array(12_000)])
    expect(readTimecodeSound(sound, 48_000)).toBeNull();
});
