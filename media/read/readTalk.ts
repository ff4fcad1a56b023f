import '../threads/fullSpeedKernels.ts';
import { TalkMeter, type Talk } from '@pocket-twin/core/measure/stream/talkMeter.ts';
import type { PcmFile } from './pcmFile.ts';

/** Reads a clip once for who speaks when. @param channels from 1: those that are wanted, in this order */
export async function readTalk(file: PcmFile, channels: readonly number[]): Promise<Talk> {
  const { sampleRate, channels: width, words, frames } = file.location;
  const meter = new TalkMeter(sampleRate, width, words);
  const [first, second] = meter.inputs;
  const framesPerRead = Math.floor(first.length / file.frameBytes);
  let [current, next] = [first, second];
  let pending = file.read(0, framesPerRead, current);
  for (let start = 0; start < frames;) {
    const count = await pending;
    if (count === 0) break;
    // The next run is read while this one is measured.
    pending = file.read(start + count, framesPerRead, next);
    meter.push(current.subarray(0, count * file.frameBytes));
    [current, next] = [next, current];
    start += count;
  }
  await pending;
  const { blockSeconds, powers } = meter.finish();
  return { blockSeconds, powers: channels.map((channel) => powers[channel - 1]) };
}
