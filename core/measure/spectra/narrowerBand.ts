import { dbFromPower } from '../../signal/decibels.ts';
import { percentile } from '../stream/noiseFloor.ts';
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
// What any line passes on of a voice: there copies are alike.
const SPEECH_HZ = { low: 400, high: 2500 };
// What stands out of the noise by less, or lies so far below the loudest third, says nothing of a band.
const OUT_OF_NOISE = 4;
const WITHIN_DB = 50;
/** A filter that takes so much off a third octave, beside what the sides differ by elsewhere, leaves nothing worth having there. */
const LACKS_DB = 12;
// A gentle filter begins well within.
const LESS_DB = 6;
/** Tones and rooms take single thirds; a band's end takes all beyond it. */
const LEAST_THIRDS = 3;

/**
 * Which of two copies is the narrower one, as over a telephone or a poor radio link: third octaves in which one side stands out of its noise while the other
 * lies lower than their ratio elsewhere, `LACKS_DB` and more where it is most. null where neither is, or each lacks something of the other.
 */
export function narrowerBand(copies: Copies): NarrowerBand | null {
  const heard = heardThirds(copies);
  const lacking = (sign: 1 | -1): number[] =>
    heard.flatMap(({ leftOverUsualDb }, i) => (sign * leftOverUsualDb > LESS_DB ? [i] : []));
  const right = lacking(1);
  const left = lacking(-1);
  for (const [side, lacks, other] of [
    ['right', right, left],
    ['left', left, right],
  ] as const) {
    const most = Math.max(...lacks.map((i) => Math.abs(heard[i].leftOverUsualDb)));
    if (lacks.length < LEAST_THIRDS || most < LACKS_DB || other.length > 0) continue;
    const held = heard.filter((_, i) => !lacks.includes(i));
    return { side, lowHz: held[0].lowHz, highHz: held[held.length - 1].highHz };
  }
  return null;
}

/**
 * Which of two copies holds less beside the band of speech, however little was taken: nothing is lost with it. null where they hold as much.
 */
export function dullerSide(copies: Copies): 'left' | 'right' | null {
  let leftMoreDb = 0;
  for (const { lowHz, highHz, leftOverUsualDb } of heardThirds(copies))
    if (highHz <= SPEECH_HZ.low || lowHz >= SPEECH_HZ.high) leftMoreDb += leftOverUsualDb;
  if (Math.abs(leftMoreDb) < LESS_DB) return null;
  return leftMoreDb > 0 ? 'right' : 'left';
}

interface Copies {
  spectrum: CrossSpectrum;
  noise: CrossSpectrum | null;
}

/** Third octaves that stand out, each with how much louder the left side is there than it mostly is. */
function heardThirds({ spectrum, noise }: Copies): { lowHz: number; highHz: number; leftOverUsualDb: number }[] {
  const thirds = thirdsOf(spectrum, noise);
  const loudest = Math.max(...thirds.map(({ left, right }) => Math.max(left, right)));
  const heard = thirds.filter(
    ({ left, right, leftNoise, rightNoise }) =>
      (left > OUT_OF_NOISE * leftNoise || right > OUT_OF_NOISE * rightNoise) &&
      dbFromPower(Math.max(left, right) / loudest) > -WITHIN_DB,
  );
  if (heard.length === 0) return [];
  const ratios = heard.map(({ left, right, leftNoise, rightNoise }) =>
    dbFromPower(
      (Math.max(left - leftNoise, 0) + 1e-3 * left + 1e-20) / (Math.max(right - rightNoise, 0) + 1e-3 * right + 1e-20),
    ),
  );
  const inSpeech = ratios.filter((_, i) => heard[i].lowHz > SPEECH_HZ.low && heard[i].highHz < SPEECH_HZ.high);
  const usual = percentile(inSpeech.length > 0 ? inSpeech : ratios, 0.5);
  return heard.map(({ lowHz, highHz }, i) => ({ lowHz, highHz, leftOverUsualDb: ratios[i] - usual }));
}

interface Third {
  lowHz: number;
  highHz: number;
  left: number;
  right: number;
  leftNoise: number;
  rightNoise: number;
}

function thirdsOf(spectrum: CrossSpectrum, noise: CrossSpectrum | null): Third[] {
  const binHz = spectrum.sampleRate / (2 * (spectrum.left.length - 1));
  const thirds: Third[] = [];
  const highest = Math.min(HIGHEST_HZ, RATE_SHARE * spectrum.sampleRate);
  for (let lowHz = LOWEST_HZ; lowHz * THIRD_OCTAVE <= highest; lowHz *= THIRD_OCTAVE) {
    const highHz = lowHz * THIRD_OCTAVE;
    const first = Math.ceil(lowHz / binHz);
    const beyond = Math.max(Math.ceil(lowHz / binHz) + 1, Math.ceil(highHz / binHz));
    const power = (values: Float64Array | undefined): number =>
      values ? values.subarray(first, beyond).reduce((sum, value) => sum + value, 0) : 0;
    thirds.push({
      ...{ lowHz, highHz, left: power(spectrum.left), right: power(spectrum.right) },
      ...{ leftNoise: power(noise?.left), rightNoise: power(noise?.right) },
    });
  }
  return thirds;
}
