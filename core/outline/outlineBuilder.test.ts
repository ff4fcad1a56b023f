import { ClipMeter } from '../measure/stream/clipMeter.ts';
import { INTERLEAVED, interleave } from '../pcm/interleave.ts';
import { chatter, noise } from '../synth/noise.ts';
import { bucketFrames, outlineShape } from './outline.ts';
import { OutlineBuilder } from './outlineBuilder.ts';

test('every bucket of every level holds the extremes and the RMS of its own frames', () => {
  const channels = [chatter(0.3, 3.01, 1), noise(0.05, 3.01, 2)];
  const lanes = [...channels, channels[0].map((x, i) => x - channels[1][i])];
  const levels: number[][] = [];
  const builder = new OutlineBuilder(2, (level, values) => (levels[level] ??= []).push(...values));
  const meter = new ClipMeter(48000, 2, INTERLEAVED, { onBuckets: builder.push });
  meter.push(interleave(channels, channels[0].length));
  meter.finish();
  builder.finish();
  const { bucketsPerLevel } = outlineShape(channels[0].length, 2);
  bucketsPerLevel.forEach((buckets, level) => {
    expect(levels[level]).toHaveLength(buckets * 9);
    for (let b = 0; b < buckets; b++) {
      lanes.forEach((lane, l) => {
        const part = lane.subarray(b * bucketFrames(level), (b + 1) * bucketFrames(level));
        const [min, max, rms] = levels[level].slice((b * 3 + l) * 3, (b * 3 + l) * 3 + 3);
        expect(min).toBeCloseTo(Math.min(...part), 6);
        expect(max).toBeCloseTo(Math.max(...part), 6);
        expect(rms).toBeCloseTo(Math.sqrt(part.reduce((sum, x) => sum + x * x, 0) / part.length), 6);
      });
    }
  });
});
