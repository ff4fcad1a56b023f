import { markedOf, marksAbove, marksApart, totalOf, valuesAbove } from '../kernels/blockSeries.ts';
import { NOTHING_POWER, SILENT_PEAK_DBFS, STANDS_OUT_DB } from '../measure/boundaries.ts';
import { noiseFloorPower, percentile } from '../measure/stream/noiseFloor.ts';
import type { ChannelMeasurement } from '../measure/measurement.ts';
import type { ChannelContent } from '../schema/inspection.ts';
import {
  SHORTEST_PROGRAMME_SECONDS,
  STEADY_PROGRAMME_DBFS,
  TONAL_SHARE,
  QUIETEST_TONE_DBFS,
  PAUSE_DB,
  LEAST_PAUSE_SHARE,
  GATED_SHARE,
  GATED_RANGE_DB,
} from './boundaries.ts';
import { dbFromAmplitude, dbFromPower, powerFromDb } from '../signal/decibels.ts';

/** What a channel does over time, from its powers in the band of speech and most music. */
export interface ChannelActivity {
  content: ChannelContent;
  /** Whether it rises and falls as speech and music do; steady sound may be noise or a programme. */
  moves: boolean;
  /** Mean power in the pauses, in the speech band; 0 where there are none. */
  pausePower: number;
  /** 1 for blocks that stand out of the floor, and for all where a steady sound is the programme; else 0. */
  active: Uint8Array;
  activeSeconds: number;
  soundsLikeSpeech: boolean;
  /** It sounds, and is nothing that anybody would miss. */
  isMade: boolean;
}

/** A machine's signal beside a programme: nothing of it is one. */
export function madeActivity(blocks: number): ChannelActivity {
  return {
    ...{ content: 'noise', moves: false, pausePower: 0, activeSeconds: 0, soundsLikeSpeech: false, isMade: true },
    active: new Uint8Array(blocks),
  };
}

/** Whether a channel is what the others are compared with: a programme that lives, and no machine's. */
export function isLiving({ made }: ChannelMeasurement, { content, moves }: ChannelActivity): boolean {
  return made === null && content === 'programme' && moves;
}

export function channelActivity(channel: ChannelMeasurement, blockSeconds: number): ChannelActivity {
  const powers = channel.blockSpeechPower;
  const sounding = valuesAbove(powers, NOTHING_POWER);
  const gated = powers.length - sounding.length >= GATED_SHARE * powers.length;
  const floorPower = noiseFloorPower(sounding);
  const moves =
    countAbove(powers, floorPower * powerFromDb(STANDS_OUT_DB)) * blockSeconds >= SHORTEST_PROGRAMME_SECONDS;
  const threshold = gated
    ? percentile(sounding, 0.9) * powerFromDb(-GATED_RANGE_DB)
    : floorPower * powerFromDb(STANDS_OUT_DB);
  const content = contentOf(channel, !moves);
  const active = moves
    ? marksAbove(powers, threshold)
    : new Uint8Array(powers.length).fill(content === 'programme' ? 1 : 0);
  const pauses = markedOf(powers, marksApart(active));
  return {
    content,
    moves,
    pausePower: moves ? (pauses.length > 0 ? mean(pauses) : floorPower) : 0,
    active,
    activeSeconds: markedOf(powers, active).length * blockSeconds,
    soundsLikeSpeech: content === 'programme' && moves && pauseShare(powers) >= LEAST_PAUSE_SHARE,
    isMade: false,
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
  return valuesAbove(powers, least).length;
}

export function mean(values: Float64Array): number {
  return values.length === 0 ? 0 : totalOf(values) / values.length;
}
