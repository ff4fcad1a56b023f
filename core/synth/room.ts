import { SOUND_METRES_PER_SECOND } from '../signal/soundSpeed.ts';
import { gaussian, seededRandom } from '../signal/random.ts';
import { convolve } from './convolve.ts';
import type { Mono } from './mono.ts';

export interface Room {
  /** Time for the sound to fall by 60 dB. */
  decaySeconds: number;
  /** How far the reverberation lies below the direct sound, in dB, at one metre. */
  reverberationDb: number;
}

export const DECK: Room = { decaySeconds: 0.15, reverberationDb: -26 };
export const WINCH_HOUSE: Room = { decaySeconds: 0.45, reverberationDb: -18 };
export const OFFICE: Room = { decaySeconds: 0.3, reverberationDb: -20 };
/** The same with the furniture gone: at two metres there is as much room as voice. */
export const BARE_OFFICE: Room = { decaySeconds: 0.45, reverberationDb: -7 };
export const BOOTH: Room = { decaySeconds: 0.08, reverberationDb: -34 };

/**
 * A voice as a microphone hears it: the direct sound, later and softer with distance, and the
 * room's decaying reverberation, which does not get softer. Each seed is another place in the room.
 */
export function heardFrom(sound: Mono, room: Room, metres: number, seed: number, sampleRate = 48000): Mono {
  const arrival = Math.round((metres / SOUND_METRES_PER_SECOND) * sampleRate);
  const tail = Math.round(room.decaySeconds * sampleRate);
  const response = new Float64Array(arrival + tail);
  const next = gaussian(seededRandom(seed));
  const energy = 10 ** (room.reverberationDb / 10);
  const perSample = Math.sqrt((energy * 13.8) / tail);
  for (let i = 0; i < tail; i++) response[arrival + i] = next() * perSample * 10 ** ((-3 * i) / tail);
  response[arrival] += 1 / Math.max(0.2, metres);
  return convolve(sound, response);
}
