import { dbFromAmplitude } from '@pocket-twin/core/signal/decibels.ts';

export type HeightScale = 'db' | 'linear';

const FLOOR_DB = -72;

/** How high an amplitude (0 or more, full scale at 1) stands, 0..1 of its half of the ribbon. */
export function heightOf(amplitude: number, scale: HeightScale): number {
  if (scale === 'linear') return Math.min(1, amplitude);
  return Math.max(0, Math.min(1, 1 - dbFromAmplitude(amplitude) / FLOOR_DB));
}

/** Levels that are marked beside the ribbon, in dBFS: never percent. */
export function heightTicks(scale: HeightScale): number[] {
  return scale === 'db' ? [0, -24, -48] : [0, -6, -12];
}
