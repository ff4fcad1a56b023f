import { channelTone } from './spectra/channelTone.ts';
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
    channels.push(
      channel.peak < SILENT_PEAK ? channel : { ...channel, tone: await channelTone(measurement, channel, read) },
    );
  }
  return { ...measurement, channels, pairs };
}
