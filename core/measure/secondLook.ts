import { channelTone } from './spectra/channelTone.ts';
import { madeSignal } from './spectra/madeSignal.ts';
import { pairBySound, type ChannelsMeter } from './pair/channelPairs.ts';
import { findDuplicates } from './pair/duplicates.ts';
import { SILENT_PEAK } from './boundaries.ts';
import { matchedSegments } from './sections/matchedSegments.ts';
import type { Measurement, PairMeasurement } from './measurement.ts';
import type { SoundReader } from './soundReader.ts';

/**
 * Completes a measurement with what only single stretches show: which channels are copies and which are pairs, segments and
 * matches of the pairs, tones.
 */
export async function lookTwice(
  firstLook: Measurement,
  read: SoundReader,
  measureChannels: ChannelsMeter,
): Promise<Measurement> {
  const duplicates = await findDuplicates(firstLook, read);
  const measurement = await pairBySound({ ...firstLook, duplicates }, read, measureChannels);
  const pairs: PairMeasurement[] = [];
  for (const pair of measurement.pairs)
    pairs.push({ ...pair, segments: await matchedSegments(measurement, pair, read) });
  const channels = [];
  for (const channel of measurement.channels) {
    if (channel.peak < SILENT_PEAK) channels.push(channel);
    else
      channels.push({
        ...channel,
        tone: await channelTone(measurement, channel, read),
        made: measurement.channels.length > 1 ? await madeSignal(measurement, channel, read) : null,
      });
  }
  return { ...measurement, channels, pairs };
}
