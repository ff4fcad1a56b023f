import { atLevel, gain, later, mix, silence, type Mono } from './mono.ts';
import { heardFrom, OFFICE } from './room.ts';

const SAMPLE_RATE = 48000;
const BEAT_SECONDS = 0.42;
const A4_HZ = 440;
// A small waltz of our own: semitones above A4 and beats; null rests.
const TUNE: [semitones: number | null, beats: number][] = [
  [0, 2],
  [3, 1],
  [7, 2],
  [5, 1],
  [3, 1],
  [2, 1],
  [0, 1],
  [-2, 3],
  [0, 2],
  [3, 1],
  [8, 2],
  [7, 1],
  [5, 1],
  [3, 1],
  [2, 1],
  [3, 3],
  [7, 2],
  [8, 1],
  [10, 2],
  [7, 1],
  [5, 1],
  [7, 1],
  [3, 1],
  [2, 3],
  [0, 1],
  [2, 1],
  [3, 1],
  [5, 1],
  [2, 1],
  [-1, 1],
  [0, 3],
  [null, 2],
];
const CHORDS = [
  [-12, -9, -5],
  [-14, -10, -7],
  [-16, -12, -9],
  [-12, -9, -5],
];
// Two reeds a note, a little apart: an accordion's beating.
const REEDS_CENTS = [-5, 6];
const HARMONICS = 9;
// The far hand is ten centimetres further away.
const FAR_SAMPLES = 14;

/** A tune with its chords on a small accordion, the right hand on one side of the instrument and the left on the other, in a room. */
export function accordionPair(seconds: number, rmsDbfs: number): [Mono, Mono] {
  const frames = seconds * SAMPLE_RATE;
  const right = silence(frames);
  const left = silence(frames);
  let beat = 0;
  for (let n = 0; beat * BEAT_SECONDS < seconds; n++) {
    const [semitones, beats] = TUNE[n % TUNE.length];
    if (semitones !== null) play(right, semitones, beat, beats * 0.94, 0.5);
    beat += beats;
  }
  for (let b = 0; b * BEAT_SECONDS < seconds; b++) {
    const chord = CHORDS[Math.floor(b / 6) % CHORDS.length];
    if (b % 3 === 0) play(left, chord[0] - 12, b, 0.8, 0.5);
    else for (const note of chord) play(left, note, b, 0.5, 0.22);
  }
  // Each ear hears both hands, the nearer one louder, and a room of its own.
  const ear = (near: Mono, far: Mono, seed: number): Mono =>
    atLevel(heardFrom(mix(near, gain(later(far, FAR_SAMPLES), -8)), OFFICE, 1.4, seed).subarray(0, frames), rmsDbfs);
  return [ear(left, right, 81), ear(right, left, 82)];
}

function play(into: Mono, semitones: number, beat: number, beats: number, level: number): void {
  const start = Math.round(beat * BEAT_SECONDS * SAMPLE_RATE);
  const frames = Math.min(into.length - start, Math.round(beats * BEAT_SECONDS * SAMPLE_RATE));
  const bellows = new Float64Array(frames).map((_, i) => Math.min(1, i / 1900, (frames - i) / 1400));
  for (const cents of REEDS_CENTS) {
    const step = (2 * Math.PI * A4_HZ * 2 ** ((semitones + cents / 100) / 12)) / SAMPLE_RATE;
    for (let h = 1; h <= HARMONICS && h * step < 2.4; h++) {
      const amplitude = (level / h ** 1.1) * (h % 2 === 1 ? 1 : 0.6);
      addSine(into.subarray(start), bellows, amplitude, h * step);
    }
  }
}

/** A sine turned on by its angle from sample to sample, which takes a fifth of the time that a sine of each takes. */
function addSine(into: Mono, bellows: Mono, amplitude: number, step: number): void {
  const turnRe = Math.cos(step);
  const turnIm = Math.sin(step);
  let re = 1;
  let im = 0;
  for (let i = 0; i < bellows.length; i++) {
    into[i] += amplitude * bellows[i] * im;
    const turned = re * turnRe - im * turnIm;
    im = re * turnIm + im * turnRe;
    re = turned;
  }
}
