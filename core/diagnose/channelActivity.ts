import { noiseFloorPower, NOTHING_POWER, percentile } from '../measure/stream/noiseFloor.ts';
import type { ChannelMeasurement } from '../measure/measurement.ts';
import type { ChannelContent } from '../schema/inspection.ts';
import { dbFromAmplitude, dbFromPower, powerFromDb } from '../signal/decibels.ts';

/** What a channel does over time, from its powers in the band of speech and most music. */
export interface ChannelActivity {
  content: ChannelContent;
  /** Whether it rises and falls as speech and music do; steady sound may be noise or a programme. */
  moves: boolean;
  /** Mean power in the pauses, in the speech band; 0 where there are none. */
  pausePower: number;
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
// Quieter steady sound is a programme only where it is made of tones that are not the mains.
const TONAL_SHARE = 0.5;
const QUIETEST_TONE_DBFS = -80;
// Speech falls back this far between phrases, often; music and ambience do not.
const PAUSE_DB = 20;
const LEAST_PAUSE_SHARE = 0.06;
// Where a gate or an editor left pauses of nothing, what lies within 30 dB of the loud parts is active.
const GATED_SHARE = 0.15;
const GATED_RANGE_DB = 30;

export function channelActivity(channel: ChannelMeasurement, blockSeconds: number): ChannelActivity {
  const powers = channel.blockSpeechPower;
  const sounding = powers.filter((power) => power > NOTHING_POWER);
  const gated = powers.length - sounding.length >= GATED_SHARE * powers.length;
  const floorPower = noiseFloorPower(sounding);
  const moves =
    countAbove(powers, floorPower * powerFromDb(STANDS_OUT_DB)) * blockSeconds >= SHORTEST_PROGRAMME_SECONDS;
  const threshold = gated
    ? percentile(sounding, 0.9) * powerFromDb(-GATED_RANGE_DB)
    : floorPower * powerFromDb(STANDS_OUT_DB);
  const content = contentOf(channel, !moves);
  const active = Array.from({ length: powers.length }, (_, i) =>
    moves ? powers[i] > threshold : content === 'programme',
  );
  const pauses = powers.filter((_, i) => !active[i] && !active[i - 1] && !active[i + 1]);
  return {
    content,
    moves,
    pausePower: moves ? (pauses.length > 0 ? mean(pauses) : floorPower) : 0,
    active,
    activeSeconds: active.filter(Boolean).length * blockSeconds,
    soundsLikeSpeech: content === 'programme' && moves && pauseShare(powers) >= LEAST_PAUSE_SHARE,
  };
}

function contentOf(channel: ChannelMeasurement, steady: boolean): ChannelContent {
  if (dbFromAmplitude(channel.peak) < SILENT_PEAK_DBFS) return 'silent';
  if (!steady) return 'programme';
  // A knock has no part in what goes on all the time.
  const levelDbfs = dbFromPower(percentile(channel.blockSpeechPower, 0.5));
  const tonal = (channel.tone?.tonalShare ?? 0) > TONAL_SHARE && levelDbfs > QUIETEST_TONE_DBFS;
  return levelDbfs > STEADY_PROGRAMME_DBFS || tonal ? 'programme' : 'noise';
}

function pauseShare(powers: Float64Array): number {
  return 1 - countAbove(powers, percentile(powers, 0.9) * powerFromDb(-PAUSE_DB)) / powers.length;
}

function countAbove(powers: Float64Array, least: number): number {
  let count = 0;
  for (let i = 0; i < powers.length; i++) if (powers[i] > least) count++;
  return count;
}

export function mean(values: ArrayLike<number>): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[i];
  return values.length === 0 ? 0 : sum / values.length;
}
