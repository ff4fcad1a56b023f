import type { PairMatch } from '../measure/pair/pairMatch.ts';
import { incoherentShare } from '../measure/spectra/crossSpectrum.ts';
import { dbFromPower } from '../signal/decibels.ts';
import {
  CODED_COPY_APART_DB,
  CODED_COPY_NULL_DB,
  LATE_COPY_MS,
  LATE_COPY_NULL_DB,
  LATE_COPY_PROMINENCE,
  SOONEST_COPY_MS,
} from './boundaries.ts';

// The voice's own part of the spectrum, and what a coder has few bits left for.
const LOUD_HZ = { from: 100, below: 1000 };
const SOFT_HZ = { from: 1000, below: 3500 };

/** Whether the sides are one signal, one of them later, under noise that a lossy coder laid over each: no null is deep then, and no filter deepens it. */
export function isCodedCopy({ arrival, alignedNullDb, spectrum }: PairMatch, delayMs: number): boolean {
  if (delayMs >= LATE_COPY_MS && arrival.prominence >= LATE_COPY_PROMINENCE && alignedNullDb <= LATE_COPY_NULL_DB)
    return true;
  if (delayMs < SOONEST_COPY_MS || alignedNullDb > CODED_COPY_NULL_DB) return false;
  const [loud, soft] = [LOUD_HZ, SOFT_HZ].map(({ from, below }) => incoherentShare(spectrum, from, below));
  return dbFromPower(soft / Math.max(loud, Number.MIN_VALUE)) >= CODED_COPY_APART_DB;
}
