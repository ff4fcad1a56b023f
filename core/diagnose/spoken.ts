import {
  DISGUISED_GAIN_DB,
  DISGUISED_NULL_DB,
  ONE_SIDED_DB,
  ONE_SIGNAL_NULL_DB,
  STANDS_OUT_DB,
} from '../measure/boundaries.ts';
import type { PairMatch } from '../measure/pair/pairMatch.ts';
import type { Spoken } from '../schema/inspection.ts';
import type { Side } from '../schema/verdict.ts';
import { sayDecibels, sayNumber } from '../signal/sayDecibels.ts';
import { OF_ITS_OWN, SHORTEST_PROGRAMME_SECONDS, TURNED_OVER_NULL_DB } from './boundaries.ts';

// What speaks for a verdict: the number that was measured, and the one it is held against.

// What is exactly nothing is as strong as this; nobody needs more.
const MOST_STRENGTH = 4;
const NOTHING_LEFT_DB = 120;

export function speaks(says: Spoken['says'], strength: number, message: string): Spoken {
  return { says, strength: Math.max(0, Math.min(MOST_STRENGTH, strength)), message };
}

/** @param apartDb how far the programme of the other side lies under that of this one */
export function aloneSays(side: Side, apartDb: number): Spoken {
  return speaks(
    'one-sided',
    apartDb / ONE_SIDED_DB,
    `What the other side has of a programme lies ${sayDecibels(apartDb, 'dB', 0)} under that of the ${side}; from ${sayDecibels(ONE_SIDED_DB, 'dB', 0)} on a side is alone.`,
  );
}

/** The other side carries no programme at all. @param side the one that does */
export function emptySays(side: Side): Spoken {
  return speaks(
    'one-sided',
    MOST_STRENGTH,
    `The ${side === 'left' ? 'right' : 'left'} side carries no programme: nothing in it stands ${sayDecibels(STANDS_OUT_DB, 'dB', 0)} out of its own noise for ${sayNumber(SHORTEST_PROGRAMME_SECONDS)} s, or a machine makes it.`,
  );
}

export function sameSays({ plainNullDb }: PairMatch): Spoken {
  return speaks(
    'dual-mono',
    plainNullDb / ONE_SIGNAL_NULL_DB,
    `As they are, left minus right ${depth(plainNullDb)} left plus right; from ${sayDecibels(-ONE_SIGNAL_NULL_DB, 'dB', 0)} on both sides are one signal.`,
  );
}

export function disguisedSays({ plainNullDb, matchedNullDb }: PairMatch): Spoken {
  const gained = Math.max(0, plainNullDb - matchedNullDb);
  const deeper = isNothing(matchedNullDb) ? '' : `, ${sayDecibels(gained, 'dB', 0)} deeper than before`;
  return speaks(
    'fake-stereo',
    Math.min(matchedNullDb / DISGUISED_NULL_DB, gained / DISGUISED_GAIN_DB),
    `With level, delay and a filter undone the difference ${depth(matchedNullDb)} the sum${deeper}; one signal in disguise comes to ${sayDecibels(-DISGUISED_NULL_DB, 'dB', 0)} and ${sayDecibels(DISGUISED_GAIN_DB, 'dB', 0)} deeper.`,
  );
}

/** @param delayMs how much later the copy comes */
export function codedCopySays({ alignedNullDb }: PairMatch, delayMs: number): Spoken {
  return speaks(
    'fake-stereo',
    1,
    `One side comes ${sayNumber(delayMs, 2)} ms after the other, and moved onto it the difference ${depth(alignedNullDb)} the sum; what is left looks like the noise of a lossy coder, not like a room.`,
  );
}

export function codedBandSays({ matchedNullDb }: PairMatch): Spoken {
  return speaks(
    'fake-stereo',
    1,
    `One side holds nothing but a band of the other, and within it the difference ${depth(matchedNullDb)} the sum once a filter is undone; what is left looks like the noise of a lossy coder, not like a second microphone.`,
  );
}

export function ofItsOwnSays({ unlike }: PairMatch): Spoken {
  return speaks(
    'two-mics',
    unlike / OF_ITS_OWN,
    `Most of it is one signal, but where one side is suddenly the louder ${share(unlike)} of the sound is not the other’s: somebody else is heard there; a copy leaves ${share(OF_ITS_OWN)} at most.`,
  );
}

export function roomBetweenSays({ matchedNullDb }: PairMatch): Spoken {
  return speaks(
    'two-mics',
    1,
    `One side is nearly the other, later: the difference ${depth(matchedNullDb)} the sum and no deeper, and what is left is as much of low sound as of high, as a room leaves it between two close microphones; a copy nulls deeper.`,
  );
}

/** @param least from which share on */
export function unrelatedSays({ incoherent }: PairMatch, least: number): Spoken {
  return speaks(
    'two-mics',
    incoherent / least,
    `Of what one side hears the other foretells ${share(1 - incoherent)}, whatever the filter; the sides of a pair in one room share ${share(1 - least)} and more.`,
  );
}

export function turnedOverSays({ plainNullDb }: PairMatch): Spoken {
  return speaks(
    'upside-down',
    plainNullDb / TURNED_OVER_NULL_DB,
    `Left minus right is ${sayDecibels(plainNullDb, 'dB', 0)} louder than left plus right. What comes from one place is mostly the same way up on both sides, and then it is softer; from ${sayDecibels(TURNED_OVER_NULL_DB, 'dB', 0)} louder on most of it is upside down on one of them.`,
  );
}

function isNothing(nullDb: number): boolean {
  return nullDb < -NOTHING_LEFT_DB;
}

function depth(nullDb: number): string {
  return isNothing(nullDb) ? 'is nothing at all against' : `lies ${sayDecibels(Math.max(0, -nullDb), 'dB', 0)} under`;
}

function share(part: number): string {
  return `${sayNumber(100 * part, 0)} %`;
}
