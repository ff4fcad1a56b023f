import { RATE, type Mono } from './mono.ts';

export function sine(frequencyHz: number, amplitude: number, seconds: number, sampleRate = RATE): Mono {
  const frames = Math.round(seconds * sampleRate);
  const sound = new Float64Array(frames);
  for (let i = 0; i < frames; i++) sound[i] = amplitude * Math.sin((2 * Math.PI * frequencyHz * i) / sampleRate);
  return sound;
}
