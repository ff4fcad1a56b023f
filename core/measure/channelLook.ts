import { SILENT_PEAK } from './boundaries.ts';
import type { ChannelMeasurement, Measurement } from './measurement.ts';
import type { SoundReader } from './soundReader.ts';
import { channelTone } from './spectra/channelTone.ts';
import { madeSignal } from './spectra/madeSignal.ts';

/** What is told of a channel by itself. */
export type ChannelLook = Pick<ChannelMeasurement, 'tone' | 'made'>;

/** All that is needed of a measurement to look at its channels. */
export interface ChannelsClip extends Pick<Measurement, 'sampleRate' | 'blockSeconds' | 'frames'> {
  channels: Pick<ChannelMeasurement, 'channel' | 'peak' | 'blockPower'>[];
}

const NOTHING_TOLD: ChannelLook = { tone: null, made: null };

/** Whether a machine made it is asked of each. */
export async function lookAtChannels(clip: ChannelsClip, read: SoundReader): Promise<ChannelLook[]> {
  const looks: ChannelLook[] = [];
  for (const channel of clip.channels) looks.push(await lookAtChannel(clip, channel, read, true));
  return looks;
}

/** @param mayBeMade whether it is asked if a machine made it */
export async function lookAtChannel(
  clip: Omit<ChannelsClip, 'channels'>,
  channel: ChannelsClip['channels'][number],
  read: SoundReader,
  mayBeMade: boolean,
): Promise<ChannelLook> {
  if (channel.peak < SILENT_PEAK) return NOTHING_TOLD;
  return {
    tone: await channelTone(clip, channel, read),
    made: mayBeMade ? await madeSignal(clip, channel, read) : null,
  };
}
