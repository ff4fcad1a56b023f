import { lookAtChannel, type ChannelLook, type ChannelsClip } from './channelLook.ts';
import { pairBySound, type ChannelsMeter } from './pair/channelPairs.ts';
import { findDuplicates } from './pair/duplicates.ts';
import { isLiftedHiss } from './pair/liftedHiss.ts';
import { findMixes } from './pair/mixes.ts';
import { matchedSegments } from './sections/matchedSegments.ts';
import type { ChannelMeasurement, MadeSignal, Measurement, PairMeasurement } from './measurement.ts';
import type { SoundReader } from './soundReader.ts';
import { pairBesideLosses, shortLosses, sidesBesideLosses } from './sections/shortLosses.ts';

// More of it than not. Of timecode beside a voice and of the voice all but a few hundredths is the other's, as loud as its crosstalk may be.
const MOSTLY_OTHER = 0.5;

/** Looks at each channel by itself beside the look at the pairs, in order. null where that cannot be done. */
export type ChannelsLook = (clip: ChannelsClip) => Promise<ChannelLook[] | null>;

/**
 * Completes a measurement with what only single stretches show: which channels are copies and which are pairs, segments and
 * matches of the pairs, tones.
 * @param lookBeside at the channels; they are looked at after the pairs without it
 */
export async function lookTwice(
  firstLook: Measurement,
  read: SoundReader,
  measureChannels: ChannelsMeter,
  lookBeside?: ChannelsLook,
): Promise<Measurement> {
  const { sampleRate, blockSeconds, frames } = firstLook;
  const beside = lookBeside?.({
    ...{ sampleRate, blockSeconds, frames },
    channels: firstLook.channels.map(({ channel, peak, blockPower }) => ({ channel, peak, blockPower })),
  });
  const duplicates = await findDuplicates(firstLook, read);
  const mixes = await findMixes({ ...firstLook, duplicates }, read);
  const measurement = await pairBySound({ ...firstLook, duplicates, mixes }, read, measureChannels);
  const pairs: PairMeasurement[] = [];
  for (const pair of measurement.pairs) pairs.push(await lookAtPair(measurement, pair, read));
  const looks = await beside;
  const channels = [];
  for (const [i, channel] of measurement.channels.entries()) {
    const maybe = mayBeMade(channel, pairs);
    const look = looks?.[i] ?? (await lookAtChannel(measurement, channel, read, maybe));
    const found = { ...channel, tone: look.tone };
    channels.push({ ...found, made: maybe ? (look.made ?? hissBeside(found, measurement)) : null });
  }
  return { ...measurement, channels, pairs };
}

/** A channel alone is what was recorded, and what the other side of its pair hears as well is no machine's on one of them. */
function mayBeMade({ channel }: ChannelMeasurement, pairs: readonly PairMeasurement[]): boolean {
  const own = pairs.filter(({ channels }) => channels.includes(channel));
  const isHeardTwice = own.some(({ segments }) =>
    segments.some(({ match }) => match !== null && match.incoherent < MOSTLY_OTHER),
  );
  return pairs.length > 0 && !isHeardTwice;
}

const LIFTED_HISS: MadeSignal = { kind: 'hiss', hz: null, timecode: null };

/** Noise whose level runs against the other side of its pair. */
function hissBeside(channel: ChannelMeasurement, { pairs, channels, blockSeconds }: Measurement): MadeSignal | null {
  const others = pairs.flatMap(({ channels: [a, b] }) =>
    a === channel.channel ? [b] : b === channel.channel ? [a] : [],
  );
  return others.some((other) => isLiftedHiss(channel, channels[other - 1], blockSeconds)) ? LIFTED_HISS : null;
}

/** What a pair is, told beside the moments in which a side is lost. */
async function lookAtPair(
  measurement: Measurement,
  pair: PairMeasurement,
  read: SoundReader,
): Promise<PairMeasurement> {
  const [a, b] = pair.channels;
  const sides: [ChannelMeasurement, ChannelMeasurement] = [measurement.channels[a - 1], measurement.channels[b - 1]];
  const losses = shortLosses(sides, pair, measurement.blockSeconds);
  if (losses.length === 0) return { ...pair, segments: await matchedSegments(measurement, pair, read) };
  const [left, right] = sidesBesideLosses(sides, losses);
  const channels = measurement.channels.map((channel) =>
    channel.channel === a ? left : channel.channel === b ? right : channel,
  );
  const beside = { ...pairBesideLosses(pair, sides, losses, measurement), losses };
  const segments = await matchedSegments({ ...measurement, channels }, beside, read);
  return { ...beside, segments };
}
