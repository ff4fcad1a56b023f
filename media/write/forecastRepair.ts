import { levelGainDb } from '@pocket-twin/core/repair/plan/levelGainDb.ts';
import type { Forecast } from '@pocket-twin/core/schema/forecast.ts';
import { levelOrNull } from '@pocket-twin/core/schema/inspection.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { dbFromAmplitude } from '@pocket-twin/core/signal/decibels.ts';
import { measureRepair } from './measureRepair.ts';
import { PcmFile } from '../read/pcmFile.ts';

/** The levels that a repair would give, measured on what it would write. */
export async function forecastRepair(location: PcmLocation, repair: Repair): Promise<Forecast> {
  const source = await PcmFile.open(location);
  try {
    const outputs = await measureRepair(source, repair);
    const gainDb = repair.level ? levelGainDb(outputs, repair.level) : 0;
    return {
      channels: outputs
        .flatMap((output) => output.channels)
        .map((channel) => ({
          loudnessLufs: levelOrNull(channel.loudnessLufs + gainDb),
          truePeakDbtp: levelOrNull(dbFromAmplitude(channel.truePeak) + gainDb),
        })),
    };
  } finally {
    await source.close();
  }
}
