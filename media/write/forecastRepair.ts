import { levelGainDb } from '@pocket-twin/core/repair/plan/levelGainDb.ts';
import type { Forecast } from '@pocket-twin/core/schema/forecast.ts';
import { levelOrNull } from '@pocket-twin/core/schema/inspection.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { dbFromAmplitude } from '@pocket-twin/core/signal/decibels.ts';
import { measureRepair } from './measureRepair.ts';
import type { FrameSpan } from '@pocket-twin/core/time/spans.ts';
import { PcmFile } from '../read/pcmFile.ts';

// So much sound of all channels together is looked at for an estimate, in stretches spread over the clip.
const QUICK_CHANNEL_SECONDS = 240;
const STRETCH_SECONDS = 3;

/**
 * The levels that a repair would give, measured on what it would write.
 * @param quick of a long clip only stretches spread over it are looked at: its loudness to some tenths of a LU, its peak if they hold it
 */
export async function forecastRepair(location: PcmLocation, repair: Repair, quick = false): Promise<Forecast> {
  const spans = quick ? spreadSpans(location) : null;
  const source = await PcmFile.open(location);
  try {
    const outputs = await measureRepair(source, repair, spans ?? undefined);
    const gainDb = repair.level ? levelGainDb(outputs, repair.level) : 0;
    return {
      isEstimate: spans !== null,
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

/** Stretches spread over a clip; null where it is short enough to be looked at as a whole. */
function spreadSpans({ frames, channels, sampleRate }: PcmLocation): FrameSpan[] | null {
  const seconds = QUICK_CHANNEL_SECONDS / channels;
  if (frames <= 2 * seconds * sampleRate) return null;
  const count = Math.max(1, Math.round(seconds / STRETCH_SECONDS));
  const length = STRETCH_SECONDS * sampleRate;
  return Array.from({ length: count }, (_, i) => {
    const startFrame = Math.round(((i + 0.5) / count) * frames - length / 2);
    return { startFrame, endFrame: startFrame + length };
  });
}
