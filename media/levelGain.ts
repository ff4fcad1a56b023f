import { ClipMeter } from '@pocket-twin/core/measure/clipMeter.ts';
import { decodeWords } from '@pocket-twin/core/pcm/decodeWords.ts';
import { Router } from '@pocket-twin/core/repair/router.ts';
import { levelGainDb } from '@pocket-twin/core/repair/levelGainDb.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import type { PcmFile } from './pcmFile.ts';

const SIZE = 16384;

/** Puts the source through the repair once, without writing, to find the gain its level target needs. */
export async function levelGain(source: PcmFile, repair: Repair): Promise<number> {
  const { channels, frames, sampleRate, words } = source.location;
  const router = new Router(repair);
  const inputs = Array.from({ length: channels }, () => new Float64Array(SIZE));
  const routed = Array.from({ length: router.outputChannels }, () => new Float64Array(SIZE));
  const meters = repair.outputs.map((output) => new ClipMeter(sampleRate, output.routes.length, Infinity));
  const bytes = new Uint8Array(SIZE * source.frameBytes);
  for (let start = 0; start < frames + router.latencyFrames; start += SIZE) {
    const count = await source.read(start, SIZE, bytes);
    decodeWords(bytes, words, inputs, count);
    for (const input of inputs) input.fill(0, count);
    router.process(inputs, routed, SIZE);
    const kept = Math.min(SIZE, frames + router.latencyFrames - start);
    let first = 0;
    meters.forEach((meter, i) => {
      const width = repair.outputs[i].routes.length;
      meter.push(routed.slice(first, first + width), kept);
      first += width;
    });
  }
  return levelGainDb(meters.map((meter) => meter.finish()), repair.level!);
}
