import { markedOf, marksApart, totalOf, valuesAbove } from '../kernels/blockSeries.ts';
import { NOTHING_POWER, ONE_SIDED_DB, ONE_SIGNAL_NULL_DB } from '../measure/boundaries.ts';
import { incoherentShare } from '../measure/spectra/crossSpectrum.ts';
import { percentile } from '../measure/stream/noiseFloor.ts';
import type { Side } from '../schema/verdict.ts';
import { dbFromPower } from '../signal/decibels.ts';
import {
  BRIEF_SECONDS,
  BRIEF_SHARE,
  NO_NOISE_MOVES_DB,
  SHARED_HZ,
  SHARED_INCOHERENT,
  STEADY_APART_DB,
  SURELY_SHARED_HEIGHT,
  SURELY_SHARED_PROMINENCE,
} from './boundaries.ts';
import { mean } from './channelActivity.ts';
import { isHeardOnce } from './heardOnce.ts';
import type { SegmentInput } from './segment.ts';

// Which side holds programme, by the levels of a segment's blocks in the band of speech.

/**
 * Left programme over right programme in dB, where either side stands out of its floor. The mean power of each side's
 * pauses is taken off, so that noise under the programme does not count as programme.
 */
export function programmeRatioDb({ channels, activity }: SegmentInput, counts: Uint8Array): number {
  const above = channels.map(({ blockSpeechPower }, s) => {
    const powers = markedOf(blockSpeechPower, counts);
    const noise = activity[s].pausePower;
    // Noise is known to a few hundredths of itself.
    return Math.max(mean(powers) - noise, 0.02 * noise, 1e-14);
  });
  return dbFromPower(above[0] / above[1]);
}

/** Steady sound on one side and nearly as much on the other is one place heard twice, wherever the line to noise falls between them. */
export function bothSteady({ channels, activity }: SegmentInput): boolean {
  if (activity.some(({ moves, isMade }) => moves || isMade)) return false;
  const [left, right] = channels.map(({ blockSpeechPower }) => mean(blockSpeechPower));
  return Math.abs(dbFromPower((left + 1e-14) / (right + 1e-14))) < STEADY_APART_DB;
}

// Over the pauses of speech, under what sounds now and then.
const MOSTLY_SHARE = 0.75;

/**
 * How far under the louder side lies what both have of one sound, in dB; null where they share none. A side that is as steady as noise is none where it
 * holds the other's sound: no preamplifier's hiss does.
 */
export function sharedRatioDb({ segment: { match }, channels, activity }: SegmentInput): number | null {
  if (!match || activity.some(({ isMade }) => isMade)) return null;
  const { prominence, height } = match.arrival;
  const comesAlike = prominence >= SURELY_SHARED_PROMINENCE && Math.abs(height) >= SURELY_SHARED_HEIGHT;
  // Instruments that are panned come to the side upright and upside down, and show no one arrival.
  const incoherent = incoherentShare(match.spectrum, SHARED_HZ.from, SHARED_HZ.below);
  if (!comesAlike && incoherent >= SHARED_INCOHERENT) return null;
  const powers = channels.map(({ blockSpeechPower }) => blockSpeechPower);
  // Knocks on the softer side say nothing of what it holds all the time, nor do drums of what the louder one does.
  const mostly = powers.map((values) => percentile(values, MOSTLY_SHARE));
  const soft = mostly[0] < mostly[1] ? 0 : 1;
  return dbFromPower((mostly[1 - soft] + 1e-14) / (mostly[soft] + 1e-14)) - dbFromPower(Math.max(1 - incoherent, 1e-6));
}

/** Of the side that is to be filled. */
export function mayHoldAWord({ channels, activity }: SegmentInput, live: Side): boolean {
  const [lives, other] = live === 'left' ? [0, 1] : [1, 0];
  return !activity[other].isMade && isHeardOnce(channels[other].blockSpeechPower, channels[lives].blockSpeechPower);
}

/** Whether one side is alone but for moments in which the other sounds as well. */
export function soundsBriefly(input: SegmentInput, side: Side): boolean {
  const [live, dead] = side === 'left' ? [0, 1] : [1, 0];
  const powers = input.channels[dead].blockSpeechPower;
  const moments = Math.min(BRIEF_SHARE, BRIEF_SECONDS / (powers.length * input.blockSeconds));
  const loudest = Math.max(NOTHING_POWER, percentile(powers, 1 - moments));
  // What comes just before and after a moment belongs to it.
  const beside = marksApart(Uint8Array.from(powers, (power) => (power >= loudest ? 1 : 0)));
  const counts = input.activity[live].active.map((active, i) => active & beside[i]);
  const ratioDb = programmeRatioDb(input, counts);
  return (side === 'left' ? ratioDb : -ratioDb) >= ONE_SIDED_DB;
}

/** Whether the sides null once what their pauses hold is taken off, and not before, and that comes and goes as no noise does: it may be what a mix has on its sides. */
export function mayHideAMix({ segment: { match }, channels, differencePower }: SegmentInput): boolean {
  if (match === null || match.plainNullDb > ONE_SIGNAL_NULL_DB) return false;
  const difference = totalOf(differencePower);
  const both = totalOf(channels[0].blockSpeechPower) + totalOf(channels[1].blockSpeechPower);
  if (dbFromPower(difference / Math.max(2 * both - difference, Number.MIN_VALUE)) <= ONE_SIGNAL_NULL_DB) return false;
  const sounding = valuesAbove(differencePower, NOTHING_POWER);
  return dbFromPower(percentile(sounding, 0.9) / percentile(sounding, 0.1)) > NO_NOISE_MOVES_DB;
}
