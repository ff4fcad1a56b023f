import { CLEAR_ARRIVAL, ONE_SIDED_DB } from '../measure/boundaries.ts';
import { turnedByChance, type Coincidence } from '../measure/spectra/coincidence.ts';
import { coherence } from '../measure/spectra/crossSpectrum.ts';
import { percentile } from '../measure/stream/noiseFloor.ts';
import type { PairMatch } from '../measure/pair/pairMatch.ts';
import type { Spoken } from '../schema/inspection.ts';
import type { Side } from '../schema/verdict.ts';
import { sayDecibels, sayNumber } from '../signal/sayDecibels.ts';
import { speaks } from './spoken.ts';
import {
  AT_ONCE_MS,
  CHANCE_SHARE,
  LEAST_LOOKED_AT,
  LEAST_PLACED,
  LEAST_TURNED,
  LEAST_TURNED_SHARE,
  MIDDLE_FAR_LOUDER_DB,
  MIDDLE_LOUDER_DB,
  MIDDLE_MUCH_LOUDER_DB,
  MOSTLY_AT_ONCE,
  NEARLY_ALL,
  PLACED_SHARE,
  ROOM_SOFTER_DB,
  TURNED_SHARE,
  UNLIKE_PAUSES,
} from './boundaries.ts';

const PAUSES_HZ = { low: 100, high: 2000 };

/**
 * Which side holds the middle where middle and side were never decoded; null where they were not. The side is a figure of eight across the middle (or
 * left less right of a mix): it hears each sound at the same moment, upright from one hand and upside down from the other, and nothing that comes from
 * all round alike. No pair of capsules that face people turns what it hears, and none but at one place hears it at once.
 */
export function middleOf(match: PairMatch, sampleRate: number): Side | null {
  const placed = placedOf(match);
  const atOnce = placed.filter(({ delaySamples }) => Math.abs((1000 * delaySamples) / sampleRate) < AT_ONCE_MS);
  const { coincidence } = match;
  if (coincidence === null) return null;
  if (placed.length < Math.max(LEAST_PLACED, PLACED_SHARE * match.arrivals.length)) return null;
  if (atOnce.length < MOSTLY_AT_ONCE * placed.length) return null;
  const louderDb = leaningDb(match);
  const turned = atOnce.filter(({ height }) => height < 0).length;
  const upright = atOnce.length - turned;
  const isLouder = (byDb: number): boolean => Math.abs(louderDb) >= byDb;
  const isBoth = turned >= LEAST_TURNED && upright >= LEAST_TURNED;
  const isMixed = coincidence.turned >= TURNED_SHARE && coincidence.turned <= NEARLY_ALL && isLouder(MIDDLE_LOUDER_DB);
  // Less is turned where one hand has more: then by more than chance, of sides that nobody set alike.
  const isMoreThanChance =
    coincidence.turned >= Math.max(LEAST_TURNED_SHARE, CHANCE_SHARE * turnedByChance(coincidence)) &&
    coincidence.turned <= NEARLY_ALL &&
    isLouder(MIDDLE_MUCH_LOUDER_DB);
  const pauses = pausesAgree(match);
  const isOneHand =
    turned >= NEARLY_ALL * atOnce.length &&
    (pauses === null ? isLouder(MIDDLE_FAR_LOUDER_DB) : isLouder(MIDDLE_MUCH_LOUDER_DB) && pauses < UNLIKE_PAUSES);
  return isBoth || isMixed || isMoreThanChance || isOneHand ? (louderDb >= 0 ? 'left' : 'right') : null;
}

/**
 * Which side may hold the middle where nothing shows it but that the other is softer and comes from no one place: with one talker ahead, or in much room,
 * the side hears the room alone. A pair that was set alike is as loud on both; one that was not, or a microphone without arrivals, looks the same.
 */
export function perhapsMiddleOf(match: PairMatch): Side | null {
  const { length } = match.arrivals;
  const louderDb = leaningDb(match);
  if (length < LEAST_LOOKED_AT || placedOf(match).length >= PLACED_SHARE * length) return null;
  if (Math.abs(louderDb) < ROOM_SOFTER_DB) return null;
  return louderDb > 0 ? 'left' : 'right';
}

/** Stretches that tell where their sound comes from. Where one side is alone there is nothing to be placed. */
function placedOf({ arrivals }: PairMatch): PairMatch['arrivals'] {
  return arrivals.filter(
    ({ prominence, levelDifferenceDb }) => prominence >= CLEAR_ARRIVAL && Math.abs(levelDifferenceDb) < ONE_SIDED_DB,
  );
}

/** Left over right, as it mostly is. */
function leaningDb({ arrivals }: PairMatch): number {
  return percentile(
    arrivals.map(({ levelDifferenceDb }) => levelDifferenceDb),
    0.5,
  );
}

/** How far the sides agree on the noise of the place, 0..1; null where there are no pauses to tell. */
function pausesAgree({ noise }: PairMatch): number | null {
  if (!noise) return null;
  const binHz = noise.sampleRate / (2 * (noise.left.length - 1));
  const heard = coherence(noise).subarray(Math.ceil(PAUSES_HZ.low / binHz), Math.floor(PAUSES_HZ.high / binHz));
  return heard.reduce((sum, value) => sum + value, 0) / heard.length;
}

/** What little speaks for it where nothing is turned. */
export function softerSays(match: PairMatch): Spoken {
  const softerDb = Math.abs(leaningDb(match));
  return speaks(
    'mid-side',
    softerDb / ROOM_SOFTER_DB,
    `One side lies ${sayDecibels(softerDb, 'dB', 0)} under the other, and what it hears comes from no one place: a pair is as loud on both sides, to ${sayDecibels(ROOM_SOFTER_DB, 'dB', 0)}.`,
  );
}

/** What speaks for a middle that `middleOf` found. */
export function turnedSays(coincidence: Coincidence): Spoken {
  const { turned } = coincidence;
  return speaks(
    'mid-side',
    turned / Math.min(TURNED_SHARE, Math.max(LEAST_TURNED_SHARE, CHANCE_SHARE * turnedByChance(coincidence))),
    `Sounds come to both sides at once, ${sayNumber(100 * turned, 0)} % of them upside down on one: a pair that faces people turns a fifth at most.`,
  );
}
