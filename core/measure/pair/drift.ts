import { CLEAR_ARRIVAL } from '../boundaries.ts';
import type { TimedArrival } from '../spectra/arrival.ts';
import { percentile } from '../stream/noiseFloor.ts';

/** Two clocks that run apart: the right side comes later and later. */
export interface Drift {
  /** Samples of delay a sample of time; positive where the right side falls behind. */
  slope: number;
}

/** Fewer arrivals make no line. */
const LEAST_ARRIVALS = 5;
// Crystals of two devices that are sold for sound lie under 100 parts in a million apart; twice that with a phone.
const MOST_SLOPE = 250e-6;
/** A line must hold for most of them, to a sample ... */
const LEAST_ON_LINE = 0.7;
const OFF_LINE_SAMPLES = 1;
// ... and move by more than the arrivals scatter.
const LEAST_MOVE_SAMPLES = 1.5;

/**
 * The line along which one signal's arrival moves (the median of all slopes between two arrivals: H. Theil, 1950; P. Sen, 1968; then least squares
 * over those on it). null where the arrivals stay, or lie on no line.
 */
export function driftOf(arrivals: readonly TimedArrival[]): Drift | null {
  const clear = arrivals.filter(({ prominence }) => prominence >= CLEAR_ARRIVAL);
  if (clear.length < LEAST_ARRIVALS) return null;
  const slopes = clear.flatMap((a, i) =>
    clear
      .slice(i + 1)
      .filter((b) => b.startFrame !== a.startFrame)
      .map((b) => (b.delaySamples - a.delaySamples) / (b.startFrame - a.startFrame)),
  );
  const slope = percentile(slopes, 0.5);
  const start = percentile(
    clear.map(({ startFrame, delaySamples }) => delaySamples - slope * startFrame),
    0.5,
  );
  const onLine = clear.filter(
    ({ startFrame, delaySamples }) => Math.abs(delaySamples - start - slope * startFrame) <= OFF_LINE_SAMPLES,
  );
  if (onLine.length < Math.max(LEAST_ARRIVALS, LEAST_ON_LINE * clear.length)) return null;
  const fitted = leastSquares(onLine);
  const frames = onLine.map(({ startFrame }) => startFrame);
  const moved = Math.abs(fitted) * (Math.max(...frames) - Math.min(...frames));
  return moved >= LEAST_MOVE_SAMPLES && Math.abs(fitted) <= MOST_SLOPE ? { slope: fitted } : null;
}

/** The delay at the clip's start, of what was matched from a frame of it on. */
export function delayAtStart(
  { delaySamples, driftPpm }: { delaySamples: number; driftPpm: number },
  startFrame: number,
): number {
  return delaySamples - 1e-6 * driftPpm * startFrame;
}

function leastSquares(arrivals: readonly TimedArrival[]): number {
  const count = arrivals.length;
  const frame = arrivals.reduce((sum, { startFrame }) => sum + startFrame, 0) / count;
  const delay = arrivals.reduce((sum, { delaySamples }) => sum + delaySamples, 0) / count;
  let products = 0;
  let squares = 0;
  for (const { startFrame, delaySamples } of arrivals) {
    products += (startFrame - frame) * (delaySamples - delay);
    squares += (startFrame - frame) ** 2;
  }
  return products / squares;
}
