import fc from 'fast-check';
import {
  blocksIn,
  framesIn,
  framesOfSeconds,
  lengthSeconds,
  secondsOfBlocks,
  secondsOfFrames,
  SecondsSpan,
} from './spans.ts';

test('whole frames come back from seconds at every rate, up to a day', () => {
  const rate = fc.constantFrom(8000, 22050, 44100, 48000, 88200, 96000, 192000);
  fc.assert(
    fc.property(rate, fc.nat(8.64e4), fc.nat(1e6), (sampleRate, seconds, length) => {
      const startFrame = seconds * sampleRate + (length % sampleRate);
      const span = { startFrame, endFrame: startFrame + length };
      expect(framesOfSeconds(secondsOfFrames(span, sampleRate), sampleRate)).toEqual(span);
      expect(lengthSeconds(secondsOfFrames(span, sampleRate))).toBeCloseTo(framesIn(span) / sampleRate, 6);
    }),
  );
});

test('blocks lie where their length says, and a span in seconds never begins before the clip', () => {
  expect(secondsOfBlocks({ startBlock: 5, endBlock: 20 }, 0.1)).toEqual({ startSeconds: 0.5, endSeconds: 2 });
  expect(blocksIn({ startBlock: 5, endBlock: 20 })).toBe(15);
  expect(SecondsSpan.safeParse({ startSeconds: -0.1, endSeconds: 2 }).success).toBe(false);
});
