import type { ClipSound } from '@pocket-twin/core/repair/propose/clipSound.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import { matchTwo } from './matchTwo.ts';
import { PcmFile } from './pcmFile.ts';
import { readTalk } from './readTalk.ts';
import { soundReader } from './soundReader.ts';

/** Lends a clip's sound to whoever proposes something for it. */
export async function withClipSound<Result>(
  location: PcmLocation,
  use: (sound: ClipSound) => Promise<Result>,
): Promise<Result> {
  const file = await PcmFile.open(location);
  const read = soundReader(file);
  const whole = { startFrame: 0, endFrame: location.frames };
  try {
    return await use({
      read,
      talk: (channels) => readTalk(file, channels),
      match: async (channels) => (await matchTwo(read, channels, location.sampleRate, whole)).match,
    });
  } finally {
    await file.close();
  }
}
