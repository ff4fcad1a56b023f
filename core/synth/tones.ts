import { RATE, type Mono } from './mono.ts';

export function sine(frequencyHz: number, amplitude: number, seconds: number, sampleRate = RATE): Mono {
  return Float64Array.from(
    { length: Math.round(seconds * sampleRate) },
    (_, i) => amplitude * Math.sin((2 * Math.PI * frequencyHz * i) / sampleRate),
  );
}
