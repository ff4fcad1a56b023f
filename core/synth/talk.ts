import type { Chance } from './chance.ts';
import { filtered } from './filters.ts';
import { passFilter } from '../signal/biquad.ts';
import { convolve } from './convolve.ts';
import { RATE, silence, type Mono } from './mono.ts';
import { hiss } from './noise.ts';

// People who talk in turns, each at a microphone of their own, with what is known of it: for tests and bench.

/** A turn that was made, in seconds: from the first to the last sound of its words. */
export interface MadeTurn {
  talker: number;
  startSeconds: number;
  endSeconds: number;
}

export interface TalkOptions {
  talkers: number;
  seconds: number;
  /** How much softer each is at the others' microphones, in dB below the own one. */
  bleedDb: number;
  /** How long the room goes on. */
  decaySeconds: number;
  noiseDbfs: number;
  /** The share of turns that begin before the one before has ended, and of those with a yes of another in them. */
  overlaps: number;
  yeses: number;
  /** A voice of so many seconds; made of noise in syllables where none is given. */
  voice?: (talker: number, seconds: number) => Mono;
}

const SYLLABLES_A_SECOND = 4.5;
// Nearer together than this nobody would call two turns of one person two.
const LEAST_PAUSE_SECONDS = 1.4;
const YES_SECONDS = 0.25;

/** @returns a channel a microphone, and the turns in order */
export function talkOf(chance: Chance, options: TalkOptions): { microphones: Mono[]; turns: MadeTurn[] } {
  const { talkers, seconds, bleedDb, decaySeconds, noiseDbfs } = options;
  const frames = Math.round(seconds * RATE);
  const dry = Array.from({ length: talkers }, () => silence(frames));
  const turns: MadeTurn[] = [];
  const voice = options.voice ?? ((_: number, length: number) => syllables(chance, length));
  const lastEnd = Array<number>(talkers).fill(-Infinity);
  let talker = 0;
  for (let at = 0.5; at < seconds - 6;) {
    const length = chance.between(1.2, 4.5);
    const startSeconds = Math.max(at, lastEnd[talker] + LEAST_PAUSE_SECONDS);
    const start = Math.round(startSeconds * RATE);
    const said = voice(talker, length);
    const effort = 10 ** (chance.between(-2, 2) / 20);
    said.forEach((x, i) => {
      if (start + i < frames) dry[talker][start + i] += effort * x;
    });
    const endSeconds = startSeconds + said.length / RATE;
    turns.push({ talker, startSeconds, endSeconds });
    lastEnd[talker] = endSeconds;
    const next = (talker + chance.integer(1, talkers - 1)) % talkers;
    if (chance.often(options.yeses) && startSeconds - lastEnd[next] > LEAST_PAUSE_SECONDS) {
      const yes = voice(next, YES_SECONDS);
      const middle = Math.round((startSeconds + length / 2) * RATE);
      yes.forEach((x, i) => (dry[next][middle + i] += 0.5 * x));
    }
    at = endSeconds + (chance.often(options.overlaps) ? -chance.between(0.3, 0.8) : chance.between(0.1, 0.6));
    talker = next;
  }
  const near = dry.map((sound) => convolve(sound, roomTail(chance, decaySeconds, -14)));
  const far = dry.map((sound) => convolve(sound, roomTail(chance, decaySeconds, -6)));
  const microphones = dry.map((_, m) => {
    const heard = hiss(frames, noiseDbfs, chance.seed());
    for (let t = 0; t < talkers; t++) {
      const gain = t === m ? 1 : 10 ** ((-bleedDb + chance.between(-1.5, 1.5)) / 20);
      const arrival = t === m ? 0 : Math.round((chance.between(2, 7) / 1000) * RATE);
      const arrived = t === m ? near[t] : far[t];
      for (let i = arrival; i < frames; i++) heard[i] += gain * arrived[i - arrival];
    }
    return heard;
  });
  return { microphones, turns: turns.sort((a, b) => a.startSeconds - b.startSeconds) };
}

/** Noise in the bands of a voice, louder and softer with its syllables, about -20 dBFS. */
function syllables(chance: Chance, seconds: number): Mono {
  const frames = Math.round(seconds * RATE);
  const noise = filtered(
    filtered(hiss(frames, -12, chance.seed()), passFilter('high-pass', 180, Math.SQRT1_2, RATE)),
    passFilter('low-pass', 2200, Math.SQRT1_2, RATE),
  );
  const swing = Array.from({ length: Math.ceil(seconds * SYLLABLES_A_SECOND) + 2 }, () => chance.between(0.25, 1));
  return noise.map((x, i) => {
    const place = (i / RATE) * SYLLABLES_A_SECOND;
    const syllable = Math.floor(place);
    return x * swing[syllable] * (0.12 + Math.sin(Math.PI * (place - syllable)));
  });
}

/** The direct sound and what follows it, so many decibels softer in all. */
function roomTail(chance: Chance, decaySeconds: number, reverberationDb: number): Mono {
  const tail = Math.max(1, Math.round(decaySeconds * RATE));
  const response = new Float64Array(tail + 1);
  let energy = 0;
  for (let i = 1; i <= tail; i++) {
    response[i] = chance.normal() * 10 ** ((-3 * i) / tail);
    energy += response[i] ** 2;
  }
  const scale = Math.sqrt(10 ** (reverberationDb / 10) / Math.max(energy, 1e-12));
  for (let i = 1; i <= tail; i++) response[i] *= scale;
  response[0] = 1;
  return response;
}
