import { noiseFloorPower, percentile } from '../measure/noiseFloor.ts';
import type { ChannelMeasurement } from '../measure/measurement.ts';
import type { ChannelContent } from '../schema/inspection.ts';
import { dbFromAmplitude, dbFromPower, powerFromDb } from '../signal/decibels.ts';

/** What a channel does over time, from its powers in the band of speech and most music. */
export interface ChannelActivity {
  content: ChannelContent;
  /** Power in the pauses, in the speech band. */
  floorPower: number;
  /** Blocks that stand out of the floor; all blocks where a steady sound is the programme. */
  active: boolean[];
  activeSeconds: number;
  soundsLikeSpeech: boolean;
}

// Below one step of 16-bit sound there is nothing anybody put there.
const SILENT_PEAK_DBFS = -96;
// Hiss and hum move by a decibel or two between 100 ms blocks; speech and music by far more.
const STANDS_OUT_DB = 10;
// A click or a knock on a dead input is shorter than this.
const SHORTEST_PROGRAMME_SECONDS = 0.3;
// A steady sound this loud was recorded on purpose (a river, a tone); open preamps stay under -50 dBFS.
const STEADY_PROGRAMME_DBFS = -45;
// Speech falls back this far between phrases, often; music and ambience do not.
const PAUSE_DB = 20;
const LEAST_PAUSE_SHARE = 0.06;

export function channelActivity(channel: ChannelMeasurement, blockSeconds: number): ChannelActivity {
  const powers = channel.blockSpeechPower;
  const floorPower = noiseFloorPower(powers);
  const threshold = floorPower * powerFromDb(STANDS_OUT_DB);
  const standsOut = Array.from(powers, (power) => power > threshold);
  const outSeconds = standsOut.filter(Boolean).length * blockSeconds;
  const steady = outSeconds < SHORTEST_PROGRAMME_SECONDS;
  const content = contentOf(channel, steady);
  return {
    content,
    floorPower: steady && content === 'programme' ? 0 : floorPower,
    active: steady ? standsOut.map(() => content === 'programme') : standsOut,
    activeSeconds: steady ? powers.length * blockSeconds : outSeconds,
    soundsLikeSpeech: content === 'programme' && !steady && pauseShare(powers) >= LEAST_PAUSE_SHARE,
  };
}

function contentOf(channel: ChannelMeasurement, steady: boolean): ChannelContent {
  if (dbFromAmplitude(channel.peak) < SILENT_PEAK_DBFS) return 'silent';
  if (!steady) return 'programme';
  const level = dbFromPower(mean(channel.blockSpeechPower));
  return level > STEADY_PROGRAMME_DBFS ? 'programme' : 'noise';
}

function pauseShare(powers: Float64Array): number {
  const loud = percentile(powers, 0.9);
  const quiet = powers.filter((power) => power < loud * powerFromDb(-PAUSE_DB));
  return quiet.length / powers.length;
}

export function mean(values: ArrayLike<number>): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[i];
  return values.length === 0 ? 0 : sum / values.length;
}
