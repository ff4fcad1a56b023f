import { seededRandom, gaussian } from '../signal/random.ts';

/** Signals the tests are made of. */
export function sine(frequencyHz: number, amplitude: number, seconds: number, sampleRate = 48000): Float64Array {
  return Float64Array.from(
    { length: Math.round(seconds * sampleRate) },
    (_, i) => amplitude * Math.sin((2 * Math.PI * frequencyHz * i) / sampleRate),
  );
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

/** Later by any number of samples, by a windowed sinc of 64 taps. */
export function delayed(sound: Float64Array, samples: number): Float64Array {
  const half = 32;
  const whole = Math.floor(samples);
  const taps = Array.from({ length: 2 * half }, (_, k) => {
    const x = k - half + 1 - (samples - whole);
    return (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x)) * (0.5 + 0.5 * Math.cos((Math.PI * x) / (half + 1)));
  });
  const out = new Float64Array(sound.length);
  for (let i = 0; i < sound.length; i++) {
    let sum = 0;
    for (let k = 0; k < taps.length; k++) {
      const at = i - whole - (k - half + 1);
      if (at >= 0 && at < sound.length) sum += taps[k] * sound[at];
    }
    out[i] = sum;
  }
  return out;
}

/** With less treble, as voices have; a fraction of a sample's delay is then exact. */
export function lowPassed(sound: Float64Array): Float64Array {
  let [first, second] = [0, 0];
  return sound.map((x) => {
    first += 0.35 * (x - first);
    second += 0.35 * (first - second);
    return 2 * second;
  });
}
