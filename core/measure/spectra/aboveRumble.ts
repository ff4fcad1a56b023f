import type { SoundRoom } from '../soundRoom.ts';

// What is slower than this nobody hears: a converter that stands off nought, steps on a floor, wind, the swing of a boom. Of 15 Hz a hundredth is left,
// of 50 Hz two thirds, of a voice all of it.
const MEAN_SECONDS = 1 / 100;
const PASSES = 2;

/**
 * Sound less its own mean over a sixtieth of a second around each sample, twice: nothing of it is left at 0 Hz, 40 dB are taken off at 15 Hz. The same for
 * every sound, and so of two sides alike; only what lies within a sixtieth of a second decides, with no echo of what was before.
 * @param room where what is made goes; in an array of its own without it
 */
export function aboveRumble(samples: Float64Array, sampleRate: number, room?: SoundRoom): Float64Array {
  const half = Math.round((MEAN_SECONDS * sampleRate) / 2);
  let sound = samples;
  for (let pass = 0; pass < PASSES; pass++)
    sound = lessMeans(sound, half, room?.take(samples.length) ?? new Float64Array(samples.length));
  return sound;
}

/** Beyond either end it goes on as it is there. */
function lessMeans(samples: Float64Array, half: number, into: Float64Array): Float64Array {
  const last = samples.length - 1;
  const share = 1 / (2 * half + 1);
  let sum = half * samples[0];
  for (let i = 0; i < half; i++) sum += samples[Math.min(i, last)];
  for (let i = 0; i <= last; i++) {
    sum += samples[i + half > last ? last : i + half];
    into[i] = samples[i] - share * sum;
    sum -= samples[i < half ? 0 : i - half];
  }
  return into;
}
