import { CLEAR_ARRIVAL, ONE_SIDED_DB } from '../measure/boundaries.ts';
import { turnedByChance, type Coincidence } from '../measure/spectra/coincidence.ts';
import { coherence } from '../measure/spectra/crossSpectrum.ts';
import { percentile } from '../measure/stream/noiseFloor.ts';
import { arrivalTheOtherWay, type Arrival } from '../measure/spectra/arrival.ts';
import type { DyingAway } from '../measure/pair/dyingAway.ts';
import type { PairMatch } from '../measure/pair/pairMatch.ts';
import type { Spoken } from '../schema/inspection.ts';
import type { Side } from '../schema/verdict.ts';
import { sayDecibels, sayNumber } from '../signal/sayDecibels.ts';
import { speaks } from './spoken.ts';
import {
  AT_ONCE_MS,
  CHANCE_SHARE,
  LEAST_LEANING_HEIGHT,
  LEAST_LOOKED_AT,
  LEAST_PLACED,
  LEAST_TURNED,
  LEAST_TURNED_SHARE,
  MIDDLE_FAR_LOUDER_DB,
  MIDDLE_LOUDER_DB,
  MIDDLE_MUCH_LOUDER_DB,
  MOST_PAIR_DB,
  MOST_ROOM_AGREEMENT,
  MOSTLY_AT_ONCE,
  NEARLY_ALL,
  OTHER_WAY_PROMINENCE,
  PLACED_SHARE,
  ROOM_SOFTER_DB,
  TURNED_SHARE,
  UNLIKE_PAUSES,
} from './boundaries.ts';

const PAUSES_HZ = { low: 100, high: 2000 };

/** What holds the middle of middle and side, and what told so. */
export interface Middle {
  side: Side;
  says: Spoken;
  /** A pair that was set unevenly, or a wide one with all to one hand, may look the same otherwise. */
  isSure: boolean;
}

/**
 * Which side holds the middle where middle and side were never decoded; null where they were not. The side is a figure of eight across the middle (or
 * left less right of a mix): it hears each sound at the same moment, upright from one hand and upside down from the other, and nothing that comes from
 * all round alike. No pair of capsules that face people turns what it hears, and none but at one place hears it at once.
 */
export function middleOf(match: PairMatch, sampleRate: number): Middle | null {
  // Two clocks are two devices.
  if (match.driftPpm !== 0) return null;
  const louderDb = leaningDb(match);
  const side = louderDb >= 0 ? 'left' : 'right';
  const atOnce = mostlyAtOnce(match, sampleRate);
  if (atOnce !== null) {
    if (isTurned(match, atOnce)) return { side, says: turnedSays(match.coincidence!), isSure: true };
    const agreement = agreementWhereItLeans(atOnce, louderDb);
    if (agreement !== null && agreement < LEAST_LEANING_HEIGHT)
      return { side, says: leaningSays(louderDb, agreement), isSure: false };
    if (leansAltogether(atOnce, louderDb)) return { side, says: farLouderSays(louderDb), isSure: false };
    if (leavesASofterRoom(match, louderDb)) return { side, says: roomSays(match.dyingAway!), isSure: false };
  }
  if (Math.abs(louderDb) < ROOM_SOFTER_DB) return null;
  const otherWay = arrivalTheOtherWay(match.correlogram, match.arrival, sampleRate);
  const comesLater = [match.arrival, otherWay].every(
    ({ delaySamples }) => delaySamples * Math.sign(louderDb) >= (-AT_ONCE_MS * sampleRate) / 1000,
  );
  return comesLater && otherWay.prominence >= OTHER_WAY_PROMINENCE
    ? { side, says: bothWaysSay(otherWay, sampleRate), isSure: false }
    : null;
}

/** The stretches whose sound comes to both sides at once; null where it mostly does not, or too few tell. */
function mostlyAtOnce(match: PairMatch, sampleRate: number): PairMatch['arrivals'] | null {
  const placed = placedOf(match);
  const atOnce = placed.filter(({ delaySamples }) => Math.abs((1000 * delaySamples) / sampleRate) < AT_ONCE_MS);
  const isEnough = placed.length >= Math.max(LEAST_PLACED, PLACED_SHARE * match.arrivals.length);
  return match.coincidence !== null && isEnough && atOnce.length >= MOSTLY_AT_ONCE * placed.length ? atOnce : null;
}

/** Whether more of what comes to both sides at once is upside down on one than any pair makes it. */
function isTurned(match: PairMatch, atOnce: PairMatch['arrivals']): boolean {
  const coincidence = match.coincidence!;
  const isLouder = (byDb: number): boolean => Math.abs(leaningDb(match)) >= byDb;
  const turned = atOnce.filter(({ height }) => height < 0).length;
  if (turned >= LEAST_TURNED && atOnce.length - turned >= LEAST_TURNED) return true;
  if (coincidence.turned > NEARLY_ALL) {
    if (turned < NEARLY_ALL * atOnce.length) return false;
    const pauses = pausesAgree(match);
    const isUnlike = pauses !== null && pauses < UNLIKE_PAUSES && isLouder(MIDDLE_MUCH_LOUDER_DB);
    return isUnlike || isLouder(pauses === null ? MIDDLE_FAR_LOUDER_DB : MOST_PAIR_DB);
  }
  if (coincidence.turned >= TURNED_SHARE && isLouder(MIDDLE_LOUDER_DB)) return true;
  // Less is turned where one hand has more: then by more than chance, of sides that nobody set alike.
  return (
    coincidence.turned >= Math.max(LEAST_TURNED_SHARE, CHANCE_SHARE * turnedByChance(coincidence)) &&
    isLouder(MIDDLE_MUCH_LOUDER_DB)
  );
}

/**
 * How much the sides agree, 0..1, where all that is heard leans to one of them; null where it does not. The capsules of a pair hear the room as loud as each
 * other, so what leans in it comes from its own place, directly, and is on both. The side of a middle is softer in all it hears.
 */
function agreementWhereItLeans(atOnce: PairMatch['arrivals'], louderDb: number): number | null {
  const byDb = atOnce.map(({ levelDifferenceDb }) => levelDifferenceDb * Math.sign(louderDb));
  if (byDb.filter((db) => db > 0).length < NEARLY_ALL * atOnce.length) return null;
  const leaning = atOnce.filter((_, i) => byDb[i] >= ROOM_SOFTER_DB);
  if (leaning.length < LEAST_PLACED || 2 * leaning.length < atOnce.length) return null;
  return percentile(
    leaning.map(({ height }) => Math.abs(height)),
    0.5,
  );
}

/** Whether all that is heard is further to one side than capsules at one place hear anything. In a mix all of it may be. */
function leansAltogether(atOnce: PairMatch['arrivals'], louderDb: number): boolean {
  const far = atOnce.filter(({ levelDifferenceDb }) => levelDifferenceDb * Math.sign(louderDb) >= MOST_PAIR_DB);
  return far.length >= NEARLY_ALL * atOnce.length;
}

/**
 * Whether what speech leaves in the room is softer on the softer side, and not the same sound: the side of a middle hears nothing that comes from all round as
 * the middle does. The capsules of a pair at one place hear the room as loud as each other, and most of it alike, as do the sides of a mix.
 */
function leavesASofterRoom({ dyingAway }: PairMatch, louderDb: number): boolean {
  if (dyingAway === null || Math.abs(dyingAway.agreement) >= MOST_ROOM_AGREEMENT) return false;
  return dyingAway.leftLouderDb * Math.sign(louderDb) >= ROOM_SOFTER_DB;
}

/**
 * Which side may hold the middle where nothing shows it but that the other is softer and comes from no one place: with one talker ahead, or in much room,
 * the side hears the room alone. A pair that was set alike is as loud on both; one that was not, or a microphone without arrivals, looks the same.
 */
export function perhapsMiddleOf(match: PairMatch): Side | null {
  const { length } = match.arrivals;
  const louderDb = leaningDb(match);
  if (match.driftPpm !== 0 || length < LEAST_LOOKED_AT || placedOf(match).length >= PLACED_SHARE * length) return null;
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
    `One side lies ${sayDecibels(softerDb, 'dB', 0)} under the other, and what it hears comes from no one place: a pair is as loud on both sides, to ${sayDecibels(ROOM_SOFTER_DB, 'dB')}.`,
  );
}

/** What speaks for a middle that `middleOf` found. */
function turnedSays(coincidence: Coincidence): Spoken {
  const { turned } = coincidence;
  return speaks(
    'mid-side',
    turned / Math.min(TURNED_SHARE, Math.max(LEAST_TURNED_SHARE, CHANCE_SHARE * turnedByChance(coincidence))),
    `Sounds come to both sides at once, ${sayNumber(100 * turned, 0)} % of them upside down on one: a pair that faces people turns a fifth at most.`,
  );
}

function leaningSays(louderDb: number, agreement: number): Spoken {
  return speaks(
    'mid-side',
    LEAST_LEANING_HEIGHT / agreement,
    `One side lies ${sayDecibels(Math.abs(louderDb), 'dB', 0)} under the other, and they agree on ${sayNumber(100 * agreement, 0)} % of it: what leans so far in a pair comes from one place, and ${sayNumber(100 * LEAST_LEANING_HEIGHT, 0)} % and more of it is on both.`,
  );
}

function farLouderSays(louderDb: number): Spoken {
  return speaks(
    'mid-side',
    Math.abs(louderDb) / MOST_PAIR_DB,
    `All that is heard is louder on one side, by ${sayDecibels(Math.abs(louderDb), 'dB', 0)}: a pair at one place hears no one more than ${sayDecibels(MOST_PAIR_DB, 'dB', 0)} louder, and a mix seldom has all of it to one hand.`,
  );
}

function roomSays({ leftLouderDb, agreement }: DyingAway): Spoken {
  return speaks(
    'mid-side',
    Math.abs(leftLouderDb) / ROOM_SOFTER_DB,
    `What speech leaves in the room is ${sayDecibels(Math.abs(leftLouderDb), 'dB')} softer on one side, and the sides agree on ${sayNumber(100 * Math.abs(agreement), 0)} % of it: a pair at one place hears a room as loud on both sides, or ${sayNumber(100 * MOST_ROOM_AGREEMENT, 0)} % and more of it alike.`,
  );
}

function bothWaysSay({ delaySamples, prominence }: Arrival, sampleRate: number): Spoken {
  return speaks(
    'mid-side',
    prominence / OTHER_WAY_PROMINENCE,
    `The softer side hears the sound both ways up, the other way ${sayNumber(Math.abs((1000 * delaySamples) / sampleRate), 1)} ms after the louder side, as from a wall to one hand. A microphone further off hears everything one way up.`,
  );
}
