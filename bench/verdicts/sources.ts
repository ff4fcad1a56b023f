import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import type { Chance } from '@pocket-twin/core/synth/chance.ts';
import { drums, instrument } from '@pocket-twin/core/synth/instruments.ts';
import { filtered, shelf } from '@pocket-twin/core/synth/filters.ts';
import { RATE, spoken, type Mono } from '@pocket-twin/core/synth/mono.ts';
import { decodeMono } from './codec.ts';

/** Those that the demo speaks with, or those of a folder. */
const VOICES = process.env.BENCH_VOICES ?? join(import.meta.dirname, '../../demo/voices');
const voices = readdirSync(VOICES)
  .filter((name) => name.endsWith('.flac'))
  .sort()
  .map((name) => decodeMono(join(VOICES, name), RATE));

/** A stretch of dry speech, at a random pitch and pace, brightness and level of effort; RMS about -20 dBFS while speaking. */
export function speech(chance: Chance, frames: number, who = chance.integer(0, voices.length - 1)): Mono {
  const voice = voices[who % voices.length];
  const pace = chance.between(0.82, 1.22);
  const start = chance.between(0, voice.length * 0.6);
  const sound = new Float64Array(frames).map((_, i) => {
    const at = (start + i * pace) % (voice.length - 2);
    const whole = Math.floor(at);
    return voice[whole] + (voice[whole + 1] - voice[whole]) * (at - whole);
  });
  const tilted = filtered(sound, shelf(chance.between(-6, 6), chance.betweenRatios(800, 5000)));
  return spoken(tilted, -20);
}

/** Turns of talking for two people: each sound is silent while the other speaks, with now and then both. */
export function turns(chance: Chance, frames: number): [Mono, Mono] {
  const first = chance.integer(0, voices.length - 1);
  const talkers: [Mono, Mono] = [speech(chance, frames, first), speech(chance, frames, first + 1)];
  let at = 0;
  let turn = chance.integer(0, 1);
  const open = [new Float64Array(frames), new Float64Array(frames)];
  while (at < frames) {
    const length = Math.round(chance.between(1, 4) * RATE);
    open[turn].fill(1, at, Math.min(frames, at + length));
    if (chance.often(0.25)) open[1 - turn].fill(1, at + Math.round(length * 0.6), Math.min(frames, at + length));
    at += length;
    turn = 1 - turn;
  }
  return [0, 1].map((t) => talkers[t].map((x, i) => x * open[t][i])) as [Mono, Mono];
}

/** People or players, for a stereo pair to hear. */
export function beforeAPair(
  chance: Chance,
  frames: number,
): { people: 'one talker' | 'two talkers' | 'music'; sounds: Mono[] } {
  const people = chance.pick(['one talker', 'two talkers', 'music'] as const);
  const sounds =
    people === 'one talker'
      ? [speech(chance, frames)]
      : people === 'two talkers'
        ? turns(chance, frames)
        : [instrument(chance, frames), instrument(chance, frames), drums(chance, frames)];
  return { people, sounds };
}
