import {
  CODED_COPY_NULL_DB,
  CODED_LOW_NULL_DB,
  CODED_NULL_DB,
  DISGUISED_NULL_DB,
  MOSTLY_LOW_DEEPER_DB,
  MOSTLY_LOW_NULL_DB,
  ROOM_NULL_DB,
  SOONEST_ROOM_MS,
} from '../measure/boundaries.ts';
import type { PairMatch } from '../measure/pair/pairMatch.ts';
import { incoherentShare } from '../measure/spectra/crossSpectrum.ts';
import { narrowerBand } from '../measure/spectra/narrowerBand.ts';
import { dbFromPower } from '../signal/decibels.ts';
import { SOUND_METRES_PER_SECOND } from '../signal/soundSpeed.ts';
import {
  CODED_BAND_INCOHERENT,
  CODED_COPY_APART_DB,
  CODER_DYING_DB,
  CLEAR_COPY_PROMINENCE,
  DEEP_ROOM_DYING_DB,
  DRIEST_METRES,
  LATE_COPY_MS,
  LATE_COPY_NULL_DB,
  NEAR_METRES,
  OWN_NOISE,
  ROOM_APART_DB,
  ROOM_DYING_DB,
  SOONEST_COPY_MS,
} from './boundaries.ts';

// The voice's own part of the spectrum, and what a coder has few bits left for.
const LOUD_HZ = { from: 100, below: 1000 };
const SOFT_HZ = { from: 1000, below: 3500 };

/** Whether the sides are one signal as they are, but for the treble that a lossy coder made up for each. */
export function isOneButForTreble({ plainNullDb, lowPlainNullDb }: PairMatch): boolean {
  if (plainNullDb > CODED_NULL_DB) return false;
  if (lowPlainNullDb <= CODED_LOW_NULL_DB) return true;
  return lowPlainNullDb <= MOSTLY_LOW_NULL_DB && lowPlainNullDb <= plainNullDb - MOSTLY_LOW_DEEPER_DB;
}

/** Whether the sides are one signal, one of them later, under noise that a lossy coder laid over each: no null is deep then, and no filter deepens it. */
export function isCodedCopy(match: PairMatch, delayMs: number): boolean {
  const { arrival, alignedNullDb } = match;
  if (arrival.prominence >= CLEAR_COPY_PROMINENCE) {
    if (delayMs >= LATE_COPY_MS && alignedNullDb <= LATE_COPY_NULL_DB) return true;
    if (alignedNullDb <= driestNullDb(delayMs)) return true;
  }
  return delayMs >= SOONEST_COPY_MS && alignedNullDb <= CODED_COPY_NULL_DB && followsTheVoice(match);
}

/** Whether what nearly nulls leaves more of what dies away: it is a room that is left, and not what a coder adds. */
export function isInARoom({ dyingDb, alignedNullDb }: PairMatch): boolean {
  return dyingDb !== null && dyingDb >= (alignedNullDb > DISGUISED_NULL_DB ? ROOM_DYING_DB : DEEP_ROOM_DYING_DB);
}

/** Whether what is left of the difference comes and goes with the voice, as what a coder adds does. */
function followsTheVoice(match: PairMatch): boolean {
  const { dyingDb } = match;
  if (dyingDb !== null && dyingDb < CODER_DYING_DB) return true;
  return !isInARoom(match) && codersShareDb(match) >= CODED_COPY_APART_DB;
}

/** Whether one side is a band of the other, as over a telephone, under such noise: then a filter undoes it as far as the noise lets it. */
export function isCodedBand({ matchedNullDb, spectrum, wholeBand }: PairMatch): boolean {
  if (matchedNullDb > CODED_COPY_NULL_DB) return false;
  const narrower = narrowerBand(wholeBand);
  if (narrower === null) return false;
  return incoherentShare(spectrum, Math.max(narrower.lowHz, LOUD_HZ.from), LOUD_HZ.below) <= CODED_BAND_INCOHERENT;
}

/**
 * Whether the sides come as near to one signal as the room around two close microphones lets them, and no nearer: a copy nulls to its own noise, one that
 * was coded to what its coder left, and neither adds noise of its own in the pauses.
 */
export function isRoomBetween(match: PairMatch, delayMs: number): boolean {
  const { alignedNullDb, matchedNullDb, noise, polarity, driftPpm, jump, gainMovesDb } = match;
  if (polarity < 0 || driftPpm !== 0 || jump !== null || gainMovesDb !== 0) return false;
  if (delayMs < SOONEST_ROOM_MS || delayMs > LATE_COPY_MS) return false;
  if (matchedNullDb <= ROOM_NULL_DB || alignedNullDb > CODED_COPY_NULL_DB || alignedNullDb <= driestNullDb(delayMs))
    return false;
  if (noise !== null && incoherentShare(noise) < OWN_NOISE) return false;
  return isInARoom(match) || codersShareDb(match) < ROOM_APART_DB;
}

/** What no microphone so much further off nulls to: the voice itself falls with the distance, the room stays (H. Kuttruff, "Room Acoustics", the reverberation distance). */
function driestNullDb(delayMs: number): number {
  const metres = NEAR_METRES + (SOUND_METRES_PER_SECOND * delayMs) / 1000;
  return 20 * Math.log10(metres / DRIEST_METRES);
}

/** How much more of what lies over the voice's own part of the spectrum disagrees than of that. */
function codersShareDb({ spectrum }: PairMatch): number {
  const [loud, soft] = [LOUD_HZ, SOFT_HZ].map(({ from, below }) => incoherentShare(spectrum, from, below));
  return dbFromPower(soft / Math.max(loud, Number.MIN_VALUE));
}
