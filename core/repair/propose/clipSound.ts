import type { PairMatch } from '../../measure/pair/pairMatch.ts';
import type { SoundReader } from '../../measure/soundReader.ts';
import type { Talk } from '../../measure/stream/talkMeter.ts';

/** What proposals ask of a clip's sound, wherever it lies. */
export interface ClipSound {
  read: SoundReader;
  /** Who speaks when: channels from 1, all of the clip. */
  talk: (channels: readonly number[]) => Promise<Talk>;
  /** What two channels have in common; null where nothing sounds on one of them. */
  match: (channels: [number, number]) => Promise<PairMatch | null>;
}
