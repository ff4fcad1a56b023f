import { Refusal } from '@pocket-twin/core/schema/refusal.ts';

const LEAST_RATE = 8000;
const MOST_RATE = 192_000;

/** @throws Refusal where a recording, or one stream of it, runs at a rate that no recorder has. @param sampleRate in Hz */
export function ensureRate(name: string, sampleRate: number): void {
  if (sampleRate >= LEAST_RATE && sampleRate <= MOST_RATE) return;
  throw new Refusal(
    'not-allowed',
    `${name} has a sample rate of ${sampleRate / 1000} kHz; 8 to 192 kHz can be read. Export it at 48 kHz.`,
  );
}
