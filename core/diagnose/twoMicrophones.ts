import { totalOf, valuesAbove } from '../kernels/blockSeries.ts';
import {
  ARRIVAL_BY_CHANCE,
  PAIR_REACH_MS,
  BAR_INCOHERENT,
  BAR_SWING_DB,
  BAR_SWING_MS,
  MOST_BAR_SWING_DB,
  STAND_SWING_DB,
  STAND_SWING_MS,
  SWING_OF_LIKENESS_DB,
  NEAR_FAR_DB,
  UNRELATED_INCOHERENT,
  UNSWUNG_INCOHERENT,
  COINCIDENT_MS,
  SURELY_APART_MS,
  SURELY_WIDER_MS,
  NEAREST_PAIR_DRY_DB,
  NEAREST_PAIR_METRES,
  PAIR_FLOORS_DB,
  FLOORS_WEIGHT,
  BLURRED_SHARE,
  LEAST_SWING_DB,
  LEAST_FAR_SWING_DB,
  FAR_TURN_MS,
  LEAST_SWING_MS,
  PANNED_SWING_DB,
  UNRELATED_SWING_DB,
  ALMOST,
  QUIETEST_SHARE,
} from './boundaries.ts';
import { CLEAR_ARRIVAL, NOTHING_POWER } from '../measure/boundaries.ts';
import type { CrossSpectrum } from '../measure/spectra/crossSpectrum.ts';
import { percentile } from '../measure/stream/noiseFloor.ts';
import { SPEECH_BAND_HZ } from '../measure/stream/speechBand.ts';
import { amplitudeFromDb, dbFromPower } from '../signal/decibels.ts';
import { isInARoom } from './nearlyOne.ts';
import { speaks } from './spoken.ts';
import { SOUND_METRES_PER_SECOND } from '../signal/soundSpeed.ts';
import { sayDecibels, sayNumber } from '../signal/sayDecibels.ts';
import type { ChannelMeasurement } from '../measure/measurement.ts';
import type { PairMatch } from '../measure/pair/pairMatch.ts';
import type { Spoken } from '../schema/inspection.ts';
import type { Side } from '../schema/verdict.ts';

/**
 * Of two microphones, how many people they are for: where talkers alternate, the level difference swings between the stretches that lean to one side
 * and those that lean to the other, or swings less and the arrival with it; one talker heard near and far is as much louder on one side all the way through.
 */
export function talkersOf({ leaning: { left, right } }: PairMatch, sampleRate: number): 1 | 2 {
  if (left.stretches < 2 || right.stretches < 2) return 1;
  const swingDb = (left.levelDifferenceDb - right.levelDifferenceDb) / 2;
  const isPlaced = left.prominence >= CLEAR_ARRIVAL && right.prominence >= CLEAR_ARRIVAL;
  // Who is nearer to the left side is heard there first.
  const swingMs = isPlaced ? (500 * (left.delaySamples - right.delaySamples)) / sampleRate : 0;
  return swingDb >= LEAST_FAR_SWING_DB || (swingDb >= LEAST_SWING_DB && swingMs >= BAR_SWING_MS) ? 2 : 1;
}

/** How two sides hear their pauses, left less right. */
export interface Pauses {
  /** How far speech stands over them. */
  reachApartDb: number;
  /** How loud they are. */
  floorsApartDb: number;
}

const LOUD_SHARE = 0.9;
// More of the pauses than not.
const MOST_HUM_SHARE = 0.5;
const CLEAR_OF_HUM_HZ = 300;
const THIRD_OCTAVE = 2 ** (1 / 3);

/**
 * Hum and rumble come by cable or through the floor, and tell of no place: where they are most of what a side has in its pauses, only what lies beside them
 * tells, in the most of the thirds of an octave.
 * @param noise of the pauses; without it nothing tells then
 */
export function pausesOf(
  sides: Pick<ChannelMeasurement, 'blockSpeechPower' | 'tone'>[],
  noise: CrossSpectrum | null,
): Pauses {
  const [left, right] = sides.map(({ blockSpeechPower, tone }) => {
    const sounding = valuesAbove(blockSpeechPower, NOTHING_POWER);
    const quiet = percentile(sounding, QUIETEST_SHARE);
    return {
      floorDb: dbFromPower(quiet + NOTHING_POWER),
      loudDb: dbFromPower(percentile(sounding, LOUD_SHARE) + NOTHING_POWER),
      hums: (tone?.speechHumPower ?? 0) > MOST_HUM_SHARE * quiet,
    };
  });
  if (!left.hums && !right.hums)
    return {
      reachApartDb: left.loudDb - left.floorDb - (right.loudDb - right.floorDb),
      floorsApartDb: left.floorDb - right.floorDb,
    };
  if (noise === null) return { reachApartDb: 0, floorsApartDb: 0 };
  const floorsApartDb = thirdsApartDb(noise);
  return { reachApartDb: left.loudDb - right.loudDb - floorsApartDb, floorsApartDb };
}

/** How much louder the left side is in half of the thirds of an octave of speech above the hum. */
function thirdsApartDb({ left, right, sampleRate }: CrossSpectrum): number {
  const binHz = sampleRate / (2 * (left.length - 1));
  const apart: number[] = [];
  for (let hz = CLEAR_OF_HUM_HZ; hz < SPEECH_BAND_HZ.high; hz *= THIRD_OCTAVE) {
    const first = Math.ceil(hz / binHz);
    const beyond = Math.ceil((hz * THIRD_OCTAVE) / binHz);
    const [one, other] = [left, right].map((powers) => totalOf(powers.subarray(first, beyond)));
    if (beyond > first && beyond <= left.length) apart.push(dbFromPower((one + 1e-20) / (other + 1e-20)));
  }
  return apart.length > 0 ? percentile(apart, 0.5) : 0;
}

/**
 * What speaks for two microphones that were never meant as a stereo pair: from a strength of 1 on it does, below it is one sound field. No single number
 * tells; each of these exceeds what a pair's geometry allows:
 *
 * - one steady arrival difference longer than sound needs between the microphones of a pair;
 * - speech that stands further over the pauses of one side, and comes to it first: near and far on one talker. What a coincident pair hears at one
 *   side differs in level as well, but not in time, and both capsules of a spaced pair hear the place around them alike;
 * - what comes straight, which stands over the sound of the room by so much more at the nearer one that it is nearer to who speaks than any pair;
 * - or by so much at both that both are;
 * - level differences that swing between two values as talkers alternate, the nearer side both louder and earlier, by more than the geometry of a pair
 *   allows that swings as far in time.
 *
 * @param pauses null where nobody speaks: music has none that would tell
 * @returns the strongest first
 */
export function twoMicrophonesSpeak(match: PairMatch, sampleRate: number, pauses: Pauses | null): Spoken[] {
  const { arrival } = match;
  const arrivalMs = Math.abs((1000 * arrival.delaySamples) / sampleRate);
  // A peak that hardly stands out makes doubtful what it can't decide.
  const clearness = Math.max(
    0,
    Math.min(1, (arrival.prominence - ARRIVAL_BY_CHANCE) / (CLEAR_ARRIVAL - ARRIVAL_BY_CHANCE)),
  );
  const spoken: Spoken[] = [];
  const say = (strength: number, message: string): void => {
    spoken.push(speaks('two-mics', strength, message));
  };
  const distance = arrivalMs / PAIR_REACH_MS;
  const late = clearness === 1 ? distance : Math.min(ALMOST, distance * clearness);
  say(
    late,
    `Sound comes to one side ${sayNumber(arrivalMs, 2)} ms before the other; the microphones of a pair stand ${sayNumber(PAIR_REACH_MS)} ms apart at most.`,
  );
  const swing = swingScore(match, sampleRate);
  say(
    swing.score,
    `Between what is louder left and what is louder right the level swings by ${sayDecibels(2 * swing.swingDb, 'dB')} and the arrival by ${sayNumber(2 * swing.swingMs, 2)} ms; ${swing.mostDb === null ? 'a pair swings in one of them, not in both' : `a pair that swings so in time swings by ${sayDecibels(2 * swing.mostDb, 'dB', 0)} at most`}.`,
  );
  if (pauses) {
    // Where a room has blurred every arrival, no pair of capsules is so far apart in what it hears of the pauses.
    const blurred = (1 - clearness) * BLURRED_SHARE;
    const heard = comesFromBothHands(match, sampleRate) ? beyondTurns(pauses, swing) : pauses;
    const nearAndFar = clearness * nearAndFarScore(arrivalMs, heard);
    const byPauses = Math.max(nearAndFar, blurred * nearAndFarScore(Infinity, heard));
    // What comes late and stands out differently as well has two reasons, each of which may be too small.
    const both = nearAndFar > 0 ? Math.hypot(nearAndFar, late) : 0;
    say(
      Math.max(byPauses, both),
      `Speech stands ${sayDecibels(Math.abs(pauses.reachApartDb), 'dB')} further over its pauses on the ${pauses.reachApartDb > 0 ? 'left' : 'right'}, and the pauses are ${sayDecibels(Math.abs(pauses.floorsApartDb), 'dB')} apart; what a pair hears of a place is ${sayDecibels(NEAR_FAR_DB, 'dB', 0)} apart at most.${both > byPauses ? ' How late sound comes counts with it.' : ''}`,
    );
  }
  const nearest = pauses && nearestTo(match, sampleRate);
  if (nearest)
    say(
      nearest.score,
      `What comes straight comes ${sayNumber(nearest.arrivalMs, 2)} ms sooner to the ${nearest.side} and stands ${sayDecibels(nearest.directDb, 'dB')} further over the sound of the room there, so that microphone is about ${sayNumber(nearest.metres, 1)} m from who speaks; a pair stands ${sayNumber(NEAREST_PAIR_METRES, 1)} m off and more.`,
    );
  const dryDb = pauses && isInARoom(match) ? -match.alignedNullDb : 0;
  if (dryDb > 0)
    say(
      (surelyWider(arrivalMs) * dryDb) / NEAREST_PAIR_DRY_DB,
      `The voice stands ${sayDecibels(dryDb, 'dB', 0)} over what either side hears of the room; heard ${sayNumber(arrivalMs, 2)} ms apart, a pair is too far off for more than ${sayDecibels(NEAREST_PAIR_DRY_DB, 'dB', 0)}.`,
    );
  return spoken.sort((a, b) => b.strength - a.strength);
}

/** How surely sound comes further apart than on any stand, 0..1. */
function surelyWider(arrivalMs: number): number {
  return Math.max(0, Math.min(1, (arrivalMs - SURELY_APART_MS) / (SURELY_WIDER_MS - SURELY_APART_MS)));
}

interface Nearest {
  side: Side;
  arrivalMs: number;
  directDb: number;
  metres: number;
  score: number;
}

/**
 * How near to who speaks one microphone must be that hears a voice sooner and more directly: sound straight from a mouth falls with the distance, that of
 * the room does not. Of all that is heard, and of what leans to either side; null where nothing is heard more directly where it comes first.
 */
function nearestTo({ arrival, dyingAway, leaning }: PairMatch, sampleRate: number): Nearest | null {
  let nearest: Nearest | null = null;
  for (const heard of [{ ...arrival, dyingAway }, leaning.left, leaning.right]) {
    const arrivalMs = Math.abs((1000 * heard.delaySamples) / sampleRate);
    // Right later than left is positive, and so is left more directly.
    const directDb = (heard.dyingAway?.leftMoreDirectDb ?? 0) * Math.sign(heard.delaySamples);
    if (heard.prominence < CLEAR_ARRIVAL || directDb <= 0) continue;
    const metres = ((arrivalMs / 1000) * SOUND_METRES_PER_SECOND) / (amplitudeFromDb(directDb) - 1);
    const score = (surelyWider(arrivalMs) * NEAREST_PAIR_METRES) / metres;
    if (!nearest || score > nearest.score)
      nearest = { side: heard.delaySamples > 0 ? 'left' : 'right', arrivalMs, directDb, metres, score };
  }
  return nearest;
}

/**
 * Whether all that is heard comes from one place, to one side a little before the other: then a pair and two microphones a hand apart differ in nothing but
 * what they hear of the pauses, and that may be nothing but their own hiss.
 */
export function hearsOnePlace({ arrival, leaning: { left, right } }: PairMatch, sampleRate: number): boolean {
  const arrivalMs = Math.abs((1000 * arrival.delaySamples) / sampleRate);
  const swingDb = (left.levelDifferenceDb - right.levelDifferenceDb) / 2;
  return arrival.prominence >= CLEAR_ARRIVAL && arrivalMs >= COINCIDENT_MS && swingDb < LEAST_SWING_DB / 2;
}

/** Whether what is louder left comes to the left side first, and what is louder right to the right: people on either hand. */
function comesFromBothHands({ leaning: { left, right } }: PairMatch, sampleRate: number): boolean {
  const leastSamples = (COINCIDENT_MS * sampleRate) / 1000;
  const isClear = [left, right].every(({ prominence, stretches }) => stretches >= 2 && prominence >= CLEAR_ARRIVAL);
  return isClear && left.delaySamples > leastSamples && right.delaySamples < -leastSamples;
}

/**
 * Of people on either hand whoever speaks more makes one side stand out further: by what the level swings on one stand, and by what one talker may
 * where the microphones are further apart. Only more than that tells.
 */
function beyondTurns({ reachApartDb, floorsApartDb }: Pauses, { swingDb, swingMs }: Swing): Pauses {
  const byTurnsDb = swingMs <= STAND_SWING_MS ? swingDb : Math.min(swingDb, NEAR_FAR_DB);
  return { reachApartDb: Math.max(0, Math.abs(reachApartDb) - byTurnsDb), floorsApartDb };
}

/** How much what each side hears of its pauses makes two microphones of one talker, near and far, of a pair; 1 and more: it does. */
export function nearAndFarScore(arrivalMs: number, { reachApartDb, floorsApartDb }: Pauses): number {
  const apart = Math.max(0, Math.min(1, (arrivalMs - COINCIDENT_MS) / (SURELY_APART_MS - COINCIDENT_MS)));
  const floors = Math.max(0, Math.abs(floorsApartDb) - PAIR_FLOORS_DB);
  return (apart * (Math.abs(reachApartDb) + FLOORS_WEIGHT * floors)) / NEAR_FAR_DB;
}

/** From which share on that no filter foretells no pair in a room is so much apart. */
export function leastUnrelated({ leaning: { left, right } }: PairMatch): number {
  const swingDb = (left.levelDifferenceDb - right.levelDifferenceDb) / 2;
  return UNRELATED_INCOHERENT + UNSWUNG_INCOHERENT * Math.max(0, 1 - swingDb / LEAST_SWING_DB);
}

interface Swing {
  score: number;
  /** Half of what lies between the talkers. */
  swingDb: number;
  swingMs: number;
  /** The most of a pair that swings so in time; null where that is not known. */
  mostDb: number | null;
}

/** Half the swing in level that a pair may have which swings so far in time. */
function mostSwingOfAPairDb(swingMs: number, incoherent: number): number {
  const onABar = BAR_SWING_DB + SWING_OF_LIKENESS_DB * (BAR_INCOHERENT - incoherent);
  const wide = Math.max(LEAST_SWING_DB, Math.min(MOST_BAR_SWING_DB, onABar));
  const share = Math.max(0, Math.min(1, (swingMs - STAND_SWING_MS) / (BAR_SWING_MS - STAND_SWING_MS)));
  return STAND_SWING_DB + share * (wide - STAND_SWING_DB);
}

/** Talkers who alternate. */
function swingScore({ leaning: { left, right }, incoherent }: PairMatch, sampleRate: number): Swing {
  const [leftMs, rightMs] = [left, right].map(({ delaySamples }) => (1000 * delaySamples) / sampleRate);
  const swingDb = (left.levelDifferenceDb - right.levelDifferenceDb) / 2;
  const clear = [left, right].map(({ prominence, stretches }) => stretches >= 2 && prominence >= CLEAR_ARRIVAL);
  if (clear[0] && clear[1]) {
    const swingMs = Math.max(0, (leftMs - rightMs) / 2);
    // What coincides, or was mixed, is heard at once; a spaced pair that hears both talkers equally late hears them at nearly one level.
    const isSpaced = Math.max(Math.abs(leftMs), Math.abs(rightMs)) >= SURELY_APART_MS;
    const mostDb =
      swingMs >= LEAST_SWING_MS
        ? mostSwingOfAPairDb(swingMs, incoherent)
        : isSpaced
          ? UNRELATED_SWING_DB
          : PANNED_SWING_DB;
    const score = swingDb / mostDb;
    return { score: swingDb < LEAST_SWING_DB ? Math.min(score, ALMOST) : score, swingDb, swingMs, mostDb };
  }
  const score = swingDb / UNRELATED_SWING_DB;
  const far = Math.max(clear[0] ? Math.abs(leftMs) : 0, clear[1] ? Math.abs(rightMs) : 0);
  return {
    score: swingDb < LEAST_FAR_SWING_DB ? score : Math.max(score, far / FAR_TURN_MS),
    swingDb,
    swingMs: far / 2,
    mostDb: null,
  };
}
