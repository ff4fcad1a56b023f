import { RATE, type Mono } from './mono.ts';
import { hiss } from './noise.ts';
import { filtered, shelf } from './filters.ts';
import type { Chance } from './chance.ts';
import { SOUND_METRES_PER_SECOND } from '../signal/soundSpeed.ts';
import type { Microphone } from './shoebox.ts';

const WAVES = 24;
/** Each wave is a stretch of one long noise, so far from the others' that they have nothing in common; of so many seconds for all but long clips. */
const NOISE_SECONDS = 60;

/** What fills a place: plane waves from all round, so that two microphones agree on it as far as they stand together (R. Cook and others, 1955). */
export function diffuseField(chance: Chance, frames: number, microphones: Microphone[]): Mono[] {
  const heard = microphones.map(() => new Float64Array(frames));
  const lead = 256;
  const noise = placeNoise(chance.pick([0, 1, 2, 3]), frames);
  for (let wave = 0; wave < WAVES; wave++) {
    const rise = chance.between(-1, 1);
    const around = chance.between(0, 2 * Math.PI);
    const flat = Math.sqrt(1 - rise * rise);
    const from = [flat * Math.cos(around), flat * Math.sin(around), rise];
    const start = chance.integer(0, noise.length - frames - 2 * lead);
    microphones.forEach(({ at, directivity, facing }, m) => {
      const cosine = from[0] * Math.cos(facing) + from[1] * Math.sin(facing);
      const pickup = 1 - directivity + directivity * cosine;
      const nearer =
        at[0] * from[0] +
        at[1] * from[1] +
        at[2] * from[2] -
        microphones[0].at.reduce((sum, x, i) => sum + x * from[i], 0);
      const shift = start + lead + (nearer / SOUND_METRES_PER_SECOND) * RATE;
      const whole = Math.floor(shift);
      const rest = shift - whole;
      addTo(heard[m], noise.subarray(whole), pickup * (1 - rest), pickup * rest);
    });
  }
  return heard;
}

/** What lies between two samples and the next, so much of either. */
function addTo(out: Mono, noise: Mono, here: number, next: number): void {
  const { length } = out;
  let one = noise[0];
  for (let i = 0; i < length; i++) {
    const other = noise[i + 1];
    out[i] += here * one + next * other;
    one = other;
  }
}

const places = new Map<string, Mono>();

/** The noise of a place: louder below, as air and traffic are. */
function placeNoise(which: number, frames: number): Mono {
  const length = 2 * frames <= NOISE_SECONDS * RATE ? NOISE_SECONDS * RATE : 4 * frames;
  const known = places.get(`${which} ${length}`);
  if (known) return known;
  const made = filtered(hiss(length, -20, 7_000 + which), shelf(-18, 250 + 120 * which));
  places.set(`${which} ${length}`, made);
  return made;
}
