import { CLEAR_ARRIVAL } from '../boundaries.ts';
import type { TimedArrival } from '../spectra/arrival.ts';
import type { SoundReader } from '../soundReader.ts';
import { percentile } from '../stream/noiseFloor.ts';

/** From some moment on the right side comes so much later than before. */
export interface Jump {
  /** The moment lies between these. */
  earliestFrame: number;
  latestFrame: number;
  /** Positive where the right side is later afterwards. */
  samples: number;
}

/** What agrees on one delay before the jump, and on another after it: by chance two do. */
const LEAST_EACH = 3;
const LEAST_AGREEING = 0.8;
const AGREE_SAMPLES = 1;
export const LEAST_JUMP_SAMPLES = 1.5;

/** Where one signal's arrival changes once, and stays the same before and after. null where it does not. */
export function jumpOf(arrivals: readonly TimedArrival[]): Jump | null {
  const clear = arrivals
    .filter(({ prominence }) => prominence >= CLEAR_ARRIVAL)
    .sort((a, b) => a.startFrame - b.startFrame);
  let best: { split: number; agreeing: number; samples: number } | null = null;
  for (let split = LEAST_EACH; split <= clear.length - LEAST_EACH; split++) {
    const before = clear.slice(0, split);
    const after = clear.slice(split);
    const agreeing = [before, after].map(agreeingWith);
    if (Math.min(...agreeing) < LEAST_EACH) continue;
    const all = agreeing[0] + agreeing[1];
    if (all > (best?.agreeing ?? 0)) best = { split, agreeing: all, samples: middle(after) - middle(before) };
  }
  if (!best || Math.abs(best.samples) < LEAST_JUMP_SAMPLES) return null;
  // Where all agree on one delay there is no jump, however few do otherwise.
  if (best.agreeing < LEAST_AGREEING * clear.length) return null;
  return {
    earliestFrame: clear[best.split - 1].startFrame,
    latestFrame: clear[best.split].startFrame,
    samples: best.samples,
  };
}

/** How many agree with the middle of them. */
function agreeingWith(arrivals: readonly TimedArrival[]): number {
  const delay = middle(arrivals);
  return arrivals.filter(({ delaySamples }) => Math.abs(delaySamples - delay) <= AGREE_SAMPLES).length;
}

function middle(arrivals: readonly TimedArrival[]): number {
  return percentile(
    arrivals.map(({ delaySamples }) => delaySamples),
    0.5,
  );
}

/** Two sides that are one signal, and how they differ before the jump. */
interface Copies {
  channels: [number, number];
  delaySamples: number;
  /** Right over left, negative where it is upside down. */
  factor: number;
}

const PROBES = 24;
const PROBE_SECONDS = 0.04;
/** How much better one delay must fit than the other for a moment to say anything: a share of the power. */
const CLEARLY = 0.25;
const FINE_SECONDS = 4;
// An hour's stretches lie minutes apart: a few rounds come from there to seconds.
const MOST_ROUNDS = 6;

/** The frame at which a jump lies: moments on the way are looked at, and in the last seconds every sample. */
export async function placeJump(jump: Jump, copies: Copies, sampleRate: number, read: SoundReader): Promise<number> {
  const probe = Math.round(PROBE_SECONDS * sampleRate);
  let { earliestFrame: from, latestFrame: to } = jump;
  // The last stretch that was looked at before it may hold it as well.
  to += probe;
  for (let round = 0; round < MOST_ROUNDS && to - from > FINE_SECONDS * sampleRate; round++) {
    const step = (to - from) / (PROBES + 1);
    const probes: { at: number; leftOver: number; isClear: boolean }[] = [];
    for (let p = 1; p <= PROBES; p++) {
      const at = Math.round(from + p * step);
      const { leftOver, power } = await misfit(jump, copies, at, probe, read);
      probes.push({ at, leftOver, isClear: Math.abs(leftOver) >= CLEARLY * power });
    }
    const split = bestSplit(probes.map(({ leftOver }) => leftOver)).place;
    const last = probes.slice(0, split).findLast(({ isClear }) => isClear)?.at ?? from;
    const first = probes.slice(split).find(({ isClear }) => isClear);
    const next = first ? first.at + probe : to;
    if (next - last >= to - from) break;
    [from, to] = [last, next];
  }
  // Second by second: where pauses lie around it, minutes may be left.
  const sums: SplitSums = { sum: 0, least: 0, place: from };
  for (let at = from; at < to; at += sampleRate)
    await misfit(jump, copies, at, Math.min(sampleRate, to - at), read, sums);
  return sums.place;
}

/** Up to a split the old delay fits better, from there on the new one. */
interface SplitSums {
  sum: number;
  least: number;
  place: number;
}

function bestSplit(leftOver: readonly number[]): SplitSums {
  const sums: SplitSums = { sum: 0, least: 0, place: 0 };
  leftOver.forEach((more, i) => add(sums, more, i + 1));
  return sums;
}

/** @param place after what is added */
function add(sums: SplitSums, more: number, place: number): void {
  sums.sum += more;
  if (sums.sum >= sums.least) return;
  sums.least = sums.sum;
  sums.place = place;
}

/** How much more is left over with the delay before the jump than with that after it, and the power of the right side. @param sums grow with each sample */
async function misfit(
  { samples }: Jump,
  { channels: [leftChannel, rightChannel], delaySamples, factor }: Copies,
  startFrame: number,
  frames: number,
  read: SoundReader,
  sums: SplitSums | null = null,
): Promise<{ leftOver: number; power: number }> {
  const [right] = await read(startFrame, frames, [rightChannel]);
  const [old] = await read(startFrame - Math.round(delaySamples), frames, [leftChannel]);
  const [recent] = await read(startFrame - Math.round(delaySamples + samples), frames, [leftChannel]);
  let leftOver = 0;
  let power = 0;
  for (let i = 0; i < right.length; i++) {
    const more = (right[i] - factor * old[i]) ** 2 - (right[i] - factor * recent[i]) ** 2;
    leftOver += more;
    power += right[i] * right[i];
    if (sums) add(sums, more, startFrame + i + 1);
  }
  return { leftOver, power };
}
