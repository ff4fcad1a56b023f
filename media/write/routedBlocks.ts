import { WordDecoder } from '@pocket-twin/core/kernels/wordCoder.ts';
import { Router } from '@pocket-twin/core/repair/run/router.ts';
import type { FrameSpan } from '@pocket-twin/core/time/spans.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import type { PcmFile } from '../read/pcmFile.ts';

/** Frames in a block at most. */
export const SIZE = 16384;

/** A block of what a repair makes: one array an output channel, valid until the next block. */
export interface RoutedBlock {
  startFrame: number;
  frames: number;
  channels: Float64Array[];
}

/**
 * The source put through the repair's Router, from the first frame to the last or over a stretch. The router's
 * latency is taken off the front and made up with what follows (after the end silence), so that length and sync stay.
 */
export async function* routedBlocks(
  source: PcmFile,
  repair: Repair,
  levelGainDb = 0,
  span: FrameSpan = { startFrame: 0, endFrame: source.location.frames },
): AsyncGenerator<RoutedBlock> {
  const { channels, words } = source.location;
  const router = new Router(repair, levelGainDb);
  const decoder = new WordDecoder(words, channels, SIZE);
  const routed = Array.from({ length: router.outputChannels }, () => new Float64Array(SIZE));
  let [current, next] = decoder.inputs;
  let pending = source.read(span.startFrame, SIZE, current);
  let { startFrame } = span;
  for (let read = startFrame; startFrame < span.endFrame; read += SIZE) {
    const count = await pending;
    // The next block is read while this one is worked on.
    pending = source.read(read + SIZE, SIZE, next);
    decoder.decode(current, count);
    [current, next] = [next, current];
    for (const plane of decoder.planes) plane.fill(0, count);
    router.process(read, decoder.planes, routed, SIZE);
    const skip = Math.max(0, Math.min(SIZE, span.startFrame + router.latencyFrames - read));
    const kept = Math.min(SIZE - skip, span.endFrame - startFrame);
    if (kept <= 0) continue;
    yield { startFrame, frames: kept, channels: routed.map((plane) => plane.subarray(skip, skip + kept)) };
    startFrame += kept;
  }
  await pending;
}
