import '../threads/fullSpeedKernels.ts';
import { ClipMeter } from '@pocket-twin/core/measure/stream/clipMeter.ts';
import type { Measurement } from '@pocket-twin/core/measure/measurement.ts';
import { INTERLEAVED, interleave } from '@pocket-twin/core/pcm/interleave.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import type { PcmFile } from '../read/pcmFile.ts';
import { routedBlocks } from './routedBlocks.ts';

/** Puts the source through a repair without writing it. @returns one measurement an output file, before any level target */
export async function measureRepair(source: PcmFile, repair: Repair): Promise<Measurement[]> {
  const meters = repair.outputs.map(
    (output) => new ClipMeter(source.location.sampleRate, output.routes.length, INTERLEAVED),
  );
  for await (const block of routedBlocks(source, repair)) {
    let first = 0;
    meters.forEach((meter, i) => {
      const width = repair.outputs[i].routes.length;
      meter.push(interleave(block.channels.slice(first, first + width), block.frames));
      first += width;
    });
  }
  return meters.map((meter) => meter.finish());
}
