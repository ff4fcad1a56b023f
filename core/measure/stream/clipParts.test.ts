import { MOST_BLOCKS_A_RUN } from '../../kernels/blockMeter.ts';
import { INTERLEAVED, interleave } from '../../pcm/interleave.ts';
import { bucketFrames, JOINT_LEVEL } from '../../outline/outline.ts';
import { OutlineBuilder } from '../../outline/outlineBuilder.ts';
import { chatter, noise } from '../../synth/noise.ts';
import type { PairMeasurement } from '../measurement.ts';
import { ClipMeter } from './clipMeter.ts';
import { blockLength, cutAway, wholeClip, type ClipPart } from './clipParts.ts';
import { joinSums, measurementOf } from './clipSums.ts';

const FRAME_BYTES = 16;

function meterPart(
  bytes: Uint8Array,
  sampleRate: number,
  part: ClipPart,
  builder: OutlineBuilder,
  whileMeasuring?: { afterFrames: number; happens: () => void },
) {
  const meter = new ClipMeter(sampleRate, 2, INTERLEAVED, { onBuckets: builder.push, part });
  const push = (start: number, end: number): void => meter.push(bytes.subarray(start * FRAME_BYTES, end * FRAME_BYTES));
  const between = whileMeasuring?.afterFrames ?? part.readFrame;
  push(part.readFrame, between);
  whileMeasuring?.happens();
  push(between, part.endFrame);
  return meter.finishPart();
}

function collect(levels: number[][]) {
  return (level: number, values: Float32Array): void => {
    for (const value of values) (levels[level] ??= []).push(value);
  };
}

// What lies over the cut is what parts could get wrong: a run of zeros, a run at full scale, a peak between two samples.
test.each([
  ['speech', 8000, 75, (): number | null => null],
  ['zeros over the cut', 44100, 24, (distance: number) => (Math.abs(distance) < 20000 ? 0 : null)],
  ['zeros from before the cut to the end', 11025, 60, (distance: number) => (distance > -3000 ? 0 : null)],
  ['full scale over the cut', 48000, 24, (distance: number) => (distance >= -2 && distance < 2 ? 1 : null)],
  [
    'a peak between the samples at the cut',
    48000,
    24,
    (distance: number) => (distance === -1 || distance === 0 ? 0.98 : null),
  ],
])('a clip metered in three parts gives the numbers and the outline of one: %s', (_, sampleRate, seconds, atCut) => {
  const frames = sampleRate * seconds + 77;
  const sides = [chatter(0.2, 1.3, 1, sampleRate), noise(0.05, 1.1, 2, sampleRate)].map((sound) =>
    new Float64Array(frames).map((_, i) => sound[i % sound.length]),
  );
  const grid = bucketFrames(JOINT_LEVEL);
  // A fifth is measured when somebody begins to help, and a little more when they take more.
  const part = wholeClip(frames);
  const takes = (afterFrames: number): ClipPart => cutAway(part, afterFrames, sampleRate, grid)!;
  const [last, middle] = [takes(frames / 5), takes(0.3 * frames)];
  expect([middle.startFrame, middle.endFrame, last.endFrame]).toEqual([part.endFrame, last.startFrame, frames]);
  const left = sides[0].map((x, i) => atCut(i - middle.startFrame) ?? atCut(i - last.startFrame) ?? x);
  const bytes = interleave([left, sides[1]], frames);

  const wholeLevels: number[][] = [];
  const wholeBuilder = new OutlineBuilder(2, collect(wholeLevels));
  const whole = measurementOf(meterPart(bytes, sampleRate, wholeClip(frames), wholeBuilder));
  wholeBuilder.finish();

  const levels: number[][] = [];
  const builder = new OutlineBuilder(2, collect(levels));
  const begun = wholeClip(frames);
  let sums = meterPart(bytes, sampleRate, begun, builder, {
    afterFrames: Math.floor(0.3 * frames),
    happens: () => Object.assign(begun, part),
  });
  for (const later of [middle, last]) {
    const laterLevels: number[][] = [];
    const laterBuilder = new OutlineBuilder(2, collect(laterLevels), true);
    sums = joinSums(sums, meterPart(bytes, sampleRate, later, laterBuilder));
    laterBuilder.finish();
    laterLevels.forEach((values, level) => levels[level].push(...values));
    builder.continueWith(laterBuilder.jointBuckets());
  }
  builder.finish();

  const joined = measurementOf(sums);
  expect(levels).toEqual(wholeLevels);
  expect(
    joined.channels.map(({ peak, truePeak, clippedSamples, longestSilenceSeconds }) => ({
      peak,
      truePeak,
      clippedSamples,
      longestSilenceSeconds,
    })),
  ).toEqual(
    whole.channels.map(({ peak, truePeak, clippedSamples, longestSilenceSeconds }) => ({
      peak,
      truePeak,
      clippedSamples,
      longestSilenceSeconds,
    })),
  );
  expect(joined.frames).toBe(frames);
  joined.channels.forEach((channel, c) => {
    const wanted = whole.channels[c];
    expect(channel.blockPower).toEqual(wanted.blockPower);
    expect(channel.blockSpeechPower).toEqual(wanted.blockSpeechPower);
    expect(channel.loudnessLufs).toBeCloseTo(wanted.loudnessLufs, 9);
    expect(channel.meanSquare).toBe(wanted.meanSquare);
  });
  expect(joined.pairs[0].blockDifferencePower).toEqual(whole.pairs[0].blockDifferencePower);
  const shared = ({ product, squares, differenceSquare }: PairMeasurement): unknown => [
    product,
    squares,
    differenceSquare,
  ];
  expect(shared(joined.pairs[0])).toEqual(shared(whole.pairs[0]));
  expect(joined.pairs[0].loudnessLufs).toBeCloseTo(whole.pairs[0].loudnessLufs, 9);
});

test.each([8000, 48000, 192_000])(
  'a cut never falls into what is measured already, however little is left (%i Hz)',
  (sampleRate) => {
    const grid = bucketFrames(JOINT_LEVEL);
    const frames = 20 * sampleRate;
    for (let done = 0; done <= frames; done += sampleRate / 4) {
      const part = wholeClip(frames);
      const later = cutAway(part, done, sampleRate, grid);
      if (later === null) {
        expect(part).toEqual(wholeClip(frames));
        continue;
      }
      expect(part.bucketsEndFrame).toBeGreaterThanOrEqual(done + MOST_BLOCKS_A_RUN * blockLength(sampleRate));
      expect(part.endFrame).toBeLessThan(frames);
      expect(later.readFrame).toBeGreaterThanOrEqual(0);
      expect([later.startFrame, later.bucketsStartFrame]).toEqual([part.endFrame, part.bucketsEndFrame]);
    }
  },
);
