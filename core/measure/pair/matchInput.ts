import {
  ArrivalFinder,
  valuesASample,
  strongestArrival,
  sumOfCorrelograms,
  type Arrival,
  type Correlogram,
} from '../spectra/arrival.ts';
import type { SoundRoom } from '../soundRoom.ts';
import { percentile } from '../stream/noiseFloor.ts';
import { STANDS_OUT_DB } from '../boundaries.ts';
import { powerFromDb } from '../../signal/decibels.ts';
import { powerOf } from '../../kernels/stretchSums.ts';

/** A stretch of both sides with `margin` samples more at either end (zeros beyond the clip). */
export interface StretchSound {
  startFrame: number;
  left: Float64Array;
  right: Float64Array;
}

/** A stretch, and the mean squares of its sides. */
export interface LevelledSound extends StretchSound {
  powers: [left: number, right: number];
}

export interface MatchInput {
  sampleRate: number;
  margin: number;
  active: StretchSound[];
  pauses: StretchSound[];
  /** Where their levels differ as they mostly do not. */
  unlike: StretchSound[];
  /** Where lies what is made of them. */
  room: SoundRoom;
}

/** Longest delay looked for: 40 ms is a disguise, 50 ms is sound walking 17 m. */
export const REACH_SECONDS = 0.05;

/**
 * Those in which only noise is heard: where neither side stands out of a quiet moment by as much as sound stands out of noise, it is a soft passage of
 * sound that never pauses, and taking it for noise would take the sound off.
 */
export function truePauses(active: LevelledSound[], quiet: LevelledSound[]): LevelledSound[] {
  if (quiet.length === 0) return [];
  const loud = [0, 1].map((side) =>
    percentile(
      active.map(({ powers }) => powers[side]),
      0.5,
    ),
  );
  const under = 1 / powerFromDb(STANDS_OUT_DB);
  return quiet.filter(({ powers: [left, right] }) => left <= under * loud[0] || right <= under * loud[1]);
}

export function levelled(sound: StretchSound): LevelledSound {
  return { ...sound, powers: [powerOf(sound.left), powerOf(sound.right)] };
}

/** A sound without the room around it, or as much later. */
export function within(sound: Float64Array, margin: number, lag = 0): Float64Array {
  return sound.subarray(margin + lag, sound.length - margin + lag);
}

/** Half the sum of the sides as the left one, half their difference as the right one. */
export function middleAndSide({ startFrame, left, right }: StretchSound, room: SoundRoom): StretchSound {
  const { length } = left;
  const middle = room.take(length);
  const side = room.take(length);
  for (let i = 0; i < length; i++) {
    middle[i] = (left[i] + right[i]) / 2;
    side[i] = (left[i] - right[i]) / 2;
  }
  return { startFrame, left: middle, right: side };
}

export interface Correlated {
  /** One for each stretch. */
  correlograms: Correlogram[];
  correlogram: Correlogram;
  arrival: Arrival;
}

/** @param perSample values of a correlogram; one where all that is wanted is which sample is nearest */
export function correlated(
  { sampleRate, margin, active, room }: MatchInput,
  perSample = valuesASample(sampleRate),
): Correlated {
  const length = active[0].left.length - 2 * margin;
  const finder = new ArrivalFinder(sampleRate, length, Math.round(REACH_SECONDS * sampleRate), perSample);
  const correlograms = finder.correlate(
    active.map(({ left, right }) => [within(left, margin), within(right, margin)] as const),
    room,
  );
  const correlogram = sumOfCorrelograms(correlograms);
  return { correlograms, correlogram, arrival: strongestArrival(correlogram) };
}
