import {
  ArrivalFinder,
  strongestArrival,
  sumOfCorrelograms,
  type Arrival,
  type Correlogram,
} from '../spectra/arrival.ts';

/** A stretch of both sides with `margin` samples more at either end (zeros beyond the clip). */
export interface StretchSound {
  startFrame: number;
  left: Float64Array;
  right: Float64Array;
}

export interface MatchInput {
  sampleRate: number;
  margin: number;
  active: StretchSound[];
  pauses: StretchSound[];
  /** Where their levels differ as they mostly do not. */
  unlike: StretchSound[];
}

/** Longest delay looked for: 40 ms is a disguise, 50 ms is sound walking 17 m. */
export const REACH_SECONDS = 0.05;

/** A sound without the room around it, or as much later. */
export function within(sound: Float64Array, margin: number, lag = 0): Float64Array {
  return sound.subarray(margin + lag, sound.length - margin + lag);
}

export interface Correlated {
  /** One for each stretch. */
  correlograms: Correlogram[];
  correlogram: Correlogram;
  arrival: Arrival;
}

export function correlated({ sampleRate, margin, active }: MatchInput): Correlated {
  const length = active[0].left.length - 2 * margin;
  const finder = new ArrivalFinder(sampleRate, length, Math.round(REACH_SECONDS * sampleRate));
  const correlograms = active.map(({ left, right }) => finder.correlate(within(left, margin), within(right, margin)));
  const correlogram = sumOfCorrelograms(correlograms);
  return { correlograms, correlogram, arrival: strongestArrival(correlogram) };
}
