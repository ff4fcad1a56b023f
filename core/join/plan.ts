import type { Joining, JoinWarning } from '../schema/joining.ts';
import { sayNumber } from '../signal/sayDecibels.ts';

/** What a file has in common with the first one. */
export interface Kinship {
  /** How much later its sound comes; null where they have none in common. */
  offsetSamples: number | null;
  /** Whether it is the same sound, and not another microphone's. */
  isCopy: boolean;
  /** How fast it falls behind; negative where it runs ahead. Its offset is then that at the first file's start. */
  driftPpm: number;
}

/** The first file's, with itself; and that of a file with nothing in common, but for its offset. */
export const NO_KINSHIP = { offsetSamples: 0, isCopy: false, driftPpm: 0 } as const satisfies Kinship;

/** How files are put in step: `measured` undoes what was measured, numbers say how much later each file starts, null leaves them as they are. */
export type JoinTiming = 'measured' | readonly number[] | null;

// Nearer together than this, copies lose nothing that is heard: the first notch lies beyond half the rate.
const LEAST_APART_SAMPLES = 0.5;
// Further apart, a copy is an echo and no comb.
const MOST_APART_SECONDS = 0.05;

/**
 * Where each file starts in the joined one: nothing is cut, so the earliest starts at its beginning and the others are padded.
 * @param lengths frames of each @param kinships of each with the first
 */
export function planJoin(
  lengths: readonly number[],
  kinships: readonly Kinship[],
  timing: JoinTiming,
  sampleRate: number,
  names: readonly string[],
): Joining {
  const starts = lengths.map((_, i) => {
    if (timing === null) return 0;
    return timing === 'measured' ? 0 - (kinships[i].offsetSamples ?? 0) : Math.round(timing[i]);
  });
  // The first file moves by whole samples, which are moved as they are; a fraction is made up for in the others.
  const earliest = Math.floor(Math.min(...starts));
  const padsFrames = starts.map((start) => start - earliest);
  const warnings = kinships.flatMap(({ offsetSamples, isCopy, driftPpm }, i): JoinWarning[] => {
    if (i === 0) return [];
    if (offsetSamples === null)
      return timing === 'measured'
        ? [
            {
              code: 'nothing-in-common',
              message: `${names[i]} has no sound in common with ${names[0]}: there is nothing to line it up by.`,
            },
          ]
        : [];
    const drifts: JoinWarning[] =
      driftPpm === 0
        ? []
        : [
            {
              code: 'drift',
              message: `${names[i]} ${driftPpm > 0 ? 'falls behind' : 'runs ahead of'} ${names[0]} by ${sayNumber((Math.abs(driftPpm) * 60) / 1000, 2)} ms a minute: line up the channels of the joined clip, and its clock is undone too.`,
            },
          ];
    const apart = Math.abs(offsetSamples + padsFrames[i] - padsFrames[0]);
    if (!isCopy || apart < LEAST_APART_SAMPLES || apart > MOST_APART_SECONDS * sampleRate) return drifts;
    const samples = sayNumber(apart, Number.isInteger(apart) ? 0 : 2);
    return [
      ...drifts,
      {
        code: 'comb-filtering',
        message: `${names[i]} is a copy of ${names[0]}, ${samples} samples (${sayNumber((1000 * apart) / sampleRate, 2)} ms) apart: summed to mono they sound hollow. Line them up, or keep one.`,
      },
    ];
  });
  return {
    offsetsSamples: kinships.map(({ offsetSamples }) => offsetSamples),
    padsFrames,
    frames: Math.max(...lengths.map((length, i) => length + Math.ceil(padsFrames[i]))),
    warnings,
  };
}
