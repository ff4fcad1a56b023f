import { lookAtChannels, type ChannelLook, type ChannelsClip } from '@pocket-twin/core/measure/channelLook.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import { PcmFile } from './pcmFile.ts';
import { soundReader } from './soundReader.ts';

export interface ChannelsOrder {
  pcm: PcmLocation;
  clip: ChannelsClip;
}

/** Looks at each channel of a clip by itself. */
export async function lookAtChannelsOf({ pcm, clip }: ChannelsOrder): Promise<ChannelLook[]> {
  const sound = await PcmFile.open(pcm);
  return lookAtChannels(clip, soundReader(sound)).finally(() => sound.close());
}
