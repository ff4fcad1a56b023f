import { SOUND_METRES_PER_SECOND } from '../signal/soundSpeed.ts';
import { convolve } from './convolve.ts';
import { RATE, type Mono } from './mono.ts';
import type { Chance } from './chance.ts';

type Point = [number, number, number];

export interface Microphone {
  at: Point;
  /** 0 hears all round, 0.5 is a cardioid, 1 a figure of eight. */
  directivity: number;
  /** Where it faces, radians in the plane. */
  facing: number;
}

export interface Room {
  size: Point;
  reverberationSeconds: number;
}

export function randomRoom(chance: Chance): Room {
  return {
    size: [chance.between(2.5, 9), chance.between(2.5, 8), chance.between(2.3, 4)],
    reverberationSeconds: chance.betweenRatios(0.12, 0.9),
  };
}

const EARLY_SECONDS = 0.05;

/**
 * What one source sounds like on several microphones in a shoebox: image sources for the first 50 ms (Allen and Berkley, 1979),
 * then a diffuse tail of decaying noise. Microphones closer together than 10 cm share part of the tail.
 */
export function heardBy(chance: Chance, sound: Mono, source: Point, microphones: Microphone[], room: Room): Mono[] {
  const [w, d, h] = room.size;
  const volume = w * d * h;
  const surface = 2 * (w * d + w * h + d * h);
  // Sabine: the absorption that gives the reverberation time.
  const absorption = Math.min(0.95, (0.161 * volume) / (surface * room.reverberationSeconds));
  const reflection = Math.sqrt(1 - absorption);
  const length = Math.round(Math.min(1, room.reverberationSeconds * 1.1 + 0.06) * RATE);
  const shared = tail(chance, length);
  const apart = Math.hypot(...microphones[0].at.map((x, i) => x - microphones.at(-1)!.at[i]));
  const isAcross = microphones.some(({ directivity }) => directivity === 1);
  return microphones.map((microphone) => {
    const response = new Float64Array(length + 64);
    for (const image of images(source, room)) {
      const offset = image.at.map((x, i) => x - microphone.at[i]);
      const distance = Math.max(0.05, Math.hypot(...offset));
      const seconds = distance / SOUND_METRES_PER_SECOND;
      if (seconds > EARLY_SECONDS) continue;
      const cosine = (offset[0] * Math.cos(microphone.facing) + offset[1] * Math.sin(microphone.facing)) / distance;
      const pickup = 1 - microphone.directivity + microphone.directivity * cosine;
      addPulse(response, seconds * RATE, (pickup * reflection ** image.bounces) / distance);
    }
    // Energy of the diffuse field against the direct sound at one metre: 16 pi / absorption area.
    const energyPerSecond =
      ((16 * Math.PI) / (absorption * surface)) *
      ((6.9 * 2) / room.reverberationSeconds) *
      (1 - microphone.directivity * 0.66);
    const own = tail(chance, length);
    // A figure of eight across another microphone agrees with it on nothing that comes from all round.
    const share = isAcross ? 0 : apart < 0.1 ? 0.6 : apart < 0.25 ? 0.3 : 0;
    const level = Math.sqrt(energyPerSecond / RATE);
    for (let i = Math.round(0.03 * RATE); i < length; i++) {
      const fadeIn = Math.min(1, (i / RATE - 0.03) / 0.02);
      const noise = share * shared[i] + Math.sqrt(1 - share * share) * own[i];
      response[i] += fadeIn * noise * level * Math.exp((-6.9 * i) / RATE / room.reverberationSeconds);
    }
    return convolve(sound, response);
  });
}

function tail(chance: Chance, length: number): Mono {
  let low = 0;
  return new Float64Array(length).map(() => {
    low = 0.6 * low + 0.8 * chance.normal();
    return low;
  });
}

function images(source: Point, { size }: Room): { at: Point; bounces: number }[] {
  const found: { at: Point; bounces: number }[] = [];
  const reach = 3;
  for (let x = -reach; x <= reach; x++)
    for (let y = -reach; y <= reach; y++)
      for (let z = -2; z <= 2; z++) {
        const fold = (n: number, axis: number): number =>
          n % 2 === 0 ? n * size[axis] + source[axis] : (n + 1) * size[axis] - source[axis];
        found.push({ at: [fold(x, 0), fold(y, 1), fold(z, 2)], bounces: Math.abs(x) + Math.abs(y) + Math.abs(z) });
      }
  return found;
}

const HALF_PULSE = 12;

/** A pulse between samples: a windowed sinc. */
export function addPulse(response: Mono, at: number, amplitude: number): void {
  const whole = Math.floor(at);
  for (let i = whole - HALF_PULSE; i <= whole + HALF_PULSE; i++) {
    if (i < 0 || i >= response.length) continue;
    const x = i - at;
    const sinc = Math.abs(x) < 1e-9 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
    response[i] += amplitude * sinc * (0.5 + 0.5 * Math.cos((Math.PI * x) / (HALF_PULSE + 1)));
  }
}
