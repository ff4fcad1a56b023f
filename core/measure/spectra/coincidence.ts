import { sharedTransform } from '../../kernels/fourier.ts';
import { nearestPowerOfTwo } from '../../signal/spectrum.ts';

/** What two sides heard at the same moment have in common, whichever way up. */
export interface Coincidence {
  /** Mean of the cosine of twice the phase between the sides: 1 where each sound comes to both at once, of either polarity; 0 by chance. */
  atOnce: number;
  /** Of the sounds that come at once, the share that one side has upside down, 0..1. */
  turned: number;
}

// Long enough to part neighbouring partials of a voice, short enough that mostly one source speaks in a bin.
const WINDOW_SECONDS = 0.032;
const BAND_HZ = { low: 300, high: 6000 };
// cos 25 degrees: at once for all that noise does to a phase.
const NEARLY_AT_ONCE = 0.9;
/** Of phases that come by chance, so many are nearly at once and upright, and as many upside down. */
const BY_CHANCE = Math.acos(NEARLY_AT_ONCE) / Math.PI;

/**
 * Whether sounds come to both sides at once, each with a polarity of its own. Two capsules at one place, or a mix, hear everything at once; apart
 * by a decimetre they don't. Of middle and side (Blumlein, 1933) one half of the places comes upside down.
 */
export function coincidenceOf(
  stretches: { left: Float64Array; right: Float64Array }[],
  sampleRate: number,
): Coincidence {
  const size = nearestPowerOfTwo(WINDOW_SECONDS * sampleRate);
  const transform = sharedTransform(size, 'hann');
  const [first, last] = [BAND_HZ.low, Math.min(BAND_HZ.high, 0.45 * sampleRate)].map((hz) =>
    Math.round((hz * size) / sampleRate),
  );
  let total = 0;
  let doubled = 0;
  let upright = 0;
  let turned = 0;
  for (const { left, right } of stretches)
    for (let start = 0; start + size <= left.length; start += size) {
      const { re, im } = transform.cross(
        left.subarray(start, start + size),
        right.subarray(start, start + size),
        first,
        last,
      );
      for (let i = 0; i < re.length; i++) {
        const magnitude = Math.sqrt(re[i] * re[i] + im[i] * im[i]);
        if (magnitude === 0) continue;
        // Louder bins speak louder, but not so much that one vowel speaks for all.
        const weight = Math.sqrt(magnitude);
        const cosine = re[i] / magnitude;
        total += weight;
        doubled += weight * (2 * cosine * cosine - 1);
        if (cosine > NEARLY_AT_ONCE) upright += weight;
        if (cosine < -NEARLY_AT_ONCE) turned += weight;
      }
    }
  return { atOnce: total > 0 ? doubled / total : 0, turned: upright + turned > 0 ? turned / (upright + turned) : 0 };
}

/** What would be turned where nothing that comes at once is, but for what chance turns of the rest. */
export function turnedByChance({ atOnce }: Coincidence): number {
  const share = Math.min(1, Math.max(0, atOnce));
  const chance = (1 - share) * BY_CHANCE;
  return chance / (share + 2 * chance);
}
