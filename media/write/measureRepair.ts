import { integratedLoudness } from '@pocket-twin/core/measure/stream/loudness.ts';
import type { Programme } from '@pocket-twin/core/repair/plan/commonGainDb.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import '../threads/fullSpeedKernels.ts';
import { ClipMeter } from '@pocket-twin/core/measure/stream/clipMeter.ts';
import type { Measurement } from '@pocket-twin/core/measure/measurement.ts';
import { INTERLEAVED, interleave } from '@pocket-twin/core/pcm/interleave.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import type { FrameSpan } from '@pocket-twin/core/time/spans.ts';
import { PcmFile } from '../read/pcmFile.ts';
import { routedBlocks } from './routedBlocks.ts';

/**
 * Puts the source through a repair without writing it.
 * @param spans only these stretches, one after the other; the whole source without
 * @returns one measurement an output file, before any level target
 */
export async function measureRepair(source: PcmFile, repair: Repair, spans?: FrameSpan[]): Promise<Measurement[]> {
  return (await meterRepair(source, repair, spans)).map((meter) => meter.finish());
}

/** What decides the level of a clip as its repair makes it: of several files the loudest, and the highest peak of all. */
export async function programmeOf(location: PcmLocation, repair: Repair): Promise<Programme> {
  const source = await PcmFile.open(location);
  try {
    const files = (await meterRepair(source, repair)).map((meter) => meter.finishPart());
    const heard = files.map(({ channels }) =>
      channels[0].weighted.map((_, i) => channels.slice(0, 2).reduce((sum, { weighted }) => sum + weighted[i], 0)),
    );
    const loudest = heard
      .map(integratedLoudness)
      .reduce((best, loudness, i, all) => (loudness > all[best] ? i : best), 0);
    return {
      stepPowers: heard[loudest],
      truePeak: Math.max(...files.flatMap(({ channels }) => channels.map(({ truePeak }) => truePeak))),
    };
  } finally {
    await source.close();
  }
}

async function meterRepair(
  source: PcmFile,
  repair: Repair,
  spans: FrameSpan[] = [{ startFrame: 0, endFrame: source.location.frames }],
): Promise<ClipMeter[]> {
  const meters = repair.outputs.map(
    (output) => new ClipMeter(source.location.sampleRate, output.routes.length, INTERLEAVED),
  );
  for (const span of spans) {
    for await (const block of routedBlocks(source, repair, 0, span)) {
      let first = 0;
      meters.forEach((meter, i) => {
        const width = repair.outputs[i].routes.length;
        meter.push(interleave(block.channels.slice(first, first + width), block.frames));
        first += width;
      });
    }
  }
  return meters;
}
