import { lessMeansTwice } from '../../kernels/stretchSums.ts';
import type { SoundRoom } from '../soundRoom.ts';

// What is much slower nobody hears: a converter that stands off nought, steps on a floor, wind, the swing of a boom. Of 50 Hz an eighth is left, of what
// a voice has from 100 Hz on all.
const MEAN_SECONDS = 1 / 100;

/**
 * Sound less its own mean over a hundredth of a second around each sample, twice: nothing of it is left at 0 Hz, 57 dB are taken off at 15 Hz. The same for
 * every sound, and so for two sides alike; only what lies within a hundredth of a second decides, with no echo of what was before.
 * @param room where what is made goes; in an array of its own without it
 */
export function aboveRumble(samples: Float64Array, sampleRate: number, room?: SoundRoom): Float64Array {
  const half = Math.round((MEAN_SECONDS * sampleRate) / 2);
  return lessMeansTwice(samples, half, room?.take(samples.length) ?? new Float64Array(samples.length));
}
