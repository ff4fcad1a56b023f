import { dbFromPower } from '../../signal/decibels.ts';
import type { CrossSpectrum } from './crossSpectrum.ts';

/** A side that lacks what the other holds beyond a band, of one signal. */
export interface NarrowerBand {
  side: 'left' | 'right';
  /** What it still holds. */
  lowHz: number;
  highHz: number;
}

// Third octaves between which speech and the devices that carry it differ.
const LOWEST_HZ = 80;
const HIGHEST_HZ = 16_000;
const THIRD_OCTAVE = 2 ** (1 / 3);
const RATE_SHARE = 0.45;
// What stands out of the noise by less, or lies so far below the loudest third, says nothing of a band.
const OUT_OF_NOISE = 4;
const WITHIN_DB = 50;
/** A filter that takes so much off a third octave, beside what the sides differ by elsewhere, leaves nothing worth having there. */
const LACKS_DB = 12;
/** Tones and rooms take single thirds; a band's end takes all beyond it. */
const LEAST_THIRDS = 3;

/**
 * Which of two copies is the narrower one, as over a telephone or a poor radio link: third octaves in which one side stands out of its noise while the other
 * lies `LACKS_DB` lower than their ratio elsewhere, at an end of the spectrum. null where neither is, or each lacks something of the other.
 */
export function narrowerBand(spectrum: CrossSpectrum, noise: CrossSpectrum | null): NarrowerBand | null {
  const thirds = thirdsOf(spectrum, noise);
  const loudest = Math.max(...thirds.map(({ left, right }) => Math.max(left, right)));
  const heard = thirds.filter(
    ({ left, right, leftNoise, rightNoise }) =>
      (left > OUT_OF_NOISE * leftNoise || right > OUT_OF_NOISE * rightNoise) &&
      dbFromPower(Math.max(left, right) / loudest) > -WITHIN_DB,
  );
  if (heard.length === 0) return null;
  const ratios = heard.map(({ left, right, leftNoise, rightNoise }) =>
    dbFromPower(
      (Math.max(left - leftNoise, 0) + 1e-3 * left + 1e-20) / (Math.max(right - rightNoise, 0) + 1e-3 * right + 1e-20),
    ),
  );
  // Where both hold most is where they are alike.
  const both = heard.map(({ left, right }) => Math.min(left / total(heard, 'left'), right / total(heard, 'right')));
  const usual = ratios[both.indexOf(Math.max(...both))];
  const lacking = (sign: 1 | -1): number[] =>
    ratios.flatMap((ratio, i) => (sign * (ratio - usual) > LACKS_DB ? [i] : []));
  const [right, left] = [lacking(1), lacking(-1)];
  for (const [side, lacks, other] of [
    ['right', right, left],
    ['left', left, right],
  ] as const) {
    if (lacks.length < LEAST_THIRDS || other.length > 0) continue;
    const held = heard.filter((_, i) => !lacks.includes(i));
    return { side, lowHz: held[0].lowHz, highHz: held[held.length - 1].highHz };
  }
  return null;
}

interface Third {
  lowHz: number;
  highHz: number;
  left: number;
  right: number;
  leftNoise: number;
  rightNoise: number;
}

function total(thirds: Third[], side: 'left' | 'right'): number {
  return thirds.reduce((sum, third) => sum + third[side], 1e-20);
}

function thirdsOf(spectrum: CrossSpectrum, noise: CrossSpectrum | null): Third[] {
  const binHz = spectrum.sampleRate / (2 * (spectrum.left.length - 1));
  const thirds: Third[] = [];
  const highest = Math.min(HIGHEST_HZ, RATE_SHARE * spectrum.sampleRate);
  for (let lowHz = LOWEST_HZ; lowHz * THIRD_OCTAVE <= highest; lowHz *= THIRD_OCTAVE) {
    const highHz = lowHz * THIRD_OCTAVE;
    const [first, beyond] = [
      Math.ceil(lowHz / binHz),
      Math.max(Math.ceil(lowHz / binHz) + 1, Math.ceil(highHz / binHz)),
    ];
    const power = (values: Float64Array | undefined): number =>
      values ? values.subarray(first, beyond).reduce((sum, value) => sum + value, 0) : 0;
    thirds.push({
      ...{ lowHz, highHz, left: power(spectrum.left), right: power(spectrum.right) },
      ...{ leftNoise: power(noise?.left), rightNoise: power(noise?.right) },
    });
  }
  return thirds;
}
