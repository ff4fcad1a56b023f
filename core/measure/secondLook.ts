import { pairBySound, type ChannelsMeter } from './pair/channelPairs.ts';
import { findDuplicates } from './pair/duplicates.ts';
import { findMixes } from './pair/mixes.ts';
import { SILENT_PEAK } from './boundaries.ts';
import { Looks, type Elsewhere } from './looks.ts';
import { matchedSegments } from './sections/matchedSegments.ts';
import type { ChannelMeasurement, Measurement, PairMeasurement } from './measurement.ts';
import type { SoundReader } from './soundReader.ts';
import { pairBesideLosses, shortLosses, sidesBesideLosses } from './sections/shortLosses.ts';

/**
 * Completes a measurement with what only single stretches show: which channels are copies and which are pairs, segments and
 * matches of the pairs, tones. @param elsewhere who takes some of the looks meanwhile
 */
export async function lookTwice(
  firstLook: Measurement,
  read: SoundReader,
  measureChannels: ChannelsMeter,
  elsewhere: Elsewhere | null = null,
): Promise<Measurement> {
  const looks = new Looks(read, elsewhere);
  const duplicates = await findDuplicates(firstLook, read);
  const mixes = await findMixes({ ...firstLook, duplicates }, read);
  const measurement = await pairBySound({ ...firstLook, duplicates, mixes }, read, measureChannels);
  const asked = measurement.channels.map(({ channel, peak }) =>
    peak < SILENT_PEAK ? null : looks.ask({ kind: 'channel', channel }, measurement),
  );
  const pairs: PairMeasurement[] = [];
  for (const pair of measurement.pairs) pairs.push(await lookAtPair(measurement, pair, read, looks));
  const channels = [];
  for (const [c, channel] of measurement.channels.entries()) {
    const look = asked[c];
    channels.push(look ? { ...channel, ...(await looks.answer(look)) } : channel);
  }
  return { ...measurement, channels, pairs };
}

/** What a pair is, told beside the moments in which a side is lost. */
async function lookAtPair(
  measurement: Measurement,
  pair: PairMeasurement,
  read: SoundReader,
  looks: Looks,
): Promise<PairMeasurement> {
  const [a, b] = pair.channels;
  const sides: [ChannelMeasurement, ChannelMeasurement] = [measurement.channels[a - 1], measurement.channels[b - 1]];
  const losses = shortLosses(sides, pair, measurement.blockSeconds);
  if (losses.length === 0) return { ...pair, segments: await matchedSegments(measurement, pair, read, looks) };
  const [left, right] = sidesBesideLosses(sides, losses);
  const channels = measurement.channels.map((channel) =>
    channel.channel === a ? left : channel.channel === b ? right : channel,
  );
  const beside = { ...pairBesideLosses(pair, sides, losses, measurement), losses };
  const segments = await matchedSegments({ ...measurement, channels }, beside, read, looks);
  return { ...beside, segments };
}
