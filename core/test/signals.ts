import { seededRandom, gaussian } from '../signal/random.ts';

/** Signals the tests are made of. */
export function sine(frequencyHz: number, amplitude: number, seconds: number, sampleRate = 48000): Float64Array {
  return Float64Array.from({ length: Math.round(seconds * sampleRate) }, (_, i) => amplitude * Math.sin((2 * Math.PI * frequencyHz * i) / sampleRate));
}

export function noise(rms: number, seconds: number, seed: number, sampleRate = 48000): Float64Array {
  const next = gaussian(seededRandom(seed));
  return Float64Array.from({ length: Math.round(seconds * sampleRate) }, () => rms * next());
}

/** Noise that comes in words and phrases with pauses, as speech does. */
export function chatter(rms: number, seconds: number, seed: number, sampleRate = 48000): Float64Array {
  const sound = noise(rms, seconds, seed, sampleRate);
  return sound.map((x, i) => {
    const t = i / sampleRate;
    const talking = t % 3 < 2.2;
    return talking ? x * (0.15 + Math.abs(Math.sin(2 * Math.PI * 2.3 * t))) : 0;
  });
}

export function add(...sounds: Float64Array[]): Float64Array {
  return sounds[0].map((_, i) => sounds.reduce((sum, sound) => sum + sound[i], 0));
}

export function scale(sound: Float64Array, factor: number): Float64Array {
  return sound.map((x) => x * factor);
}
