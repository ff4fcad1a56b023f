import { type Mono, RATE } from '@pocket-twin/core/synth/mono.ts';
import { hiss } from '@pocket-twin/core/synth/noise.ts';
import type { Case, Maker } from './case.ts';
import type { Chance } from '@pocket-twin/core/synth/chance.ts';

/** Two or three clips of different kinds, one after the other. */
export function joinedFrom(chance: Chance, frames: number, makers: Maker[]): Case {
  const edges = chance.often(0.7)
    ? [0, chance.between(0.3, 0.7), 1]
    : [0, chance.between(0.25, 0.4), chance.between(0.6, 0.75), 1];
  const ends = edges.map((edge) => Math.round(edge * frames));
  const order: number[] = [];
  const parts = ends.slice(1).map((end, i) => {
    const last = order.at(-1);
    order.push(
      last === undefined
        ? chance.integer(0, makers.length - 1)
        : (last + chance.integer(1, makers.length - 1)) % makers.length,
    );
    return makers[order[i]](chance, end - ends[i]);
  });
  const sides = [0, 1].map((side) => {
    const out = new Float64Array(frames);
    parts.forEach((part, i) => out.set(part.sides[side].subarray(0, ends[i + 1] - ends[i]), ends[i]));
    return out;
  }) as [Mono, Mono];
  return {
    what: `changing: ${parts.map(({ what }) => what).join(' / ')}`,
    verdict: 'changing',
    sides,
    boundariesSeconds: ends.slice(1, -1).map((end) => end / RATE),
    wholeChannel: wholeOf(parts),
    copiesThroughout: parts.every(isCopy),
  };
}

function isCopy({ verdict }: Case): boolean {
  return verdict === 'dual-mono' || verdict === 'fake-stereo';
}

function wholeOf(parts: Case[]): number | undefined {
  const sides = new Set(parts.filter(({ verdict }) => verdict === 'one-sided').map(({ side }) => side));
  const known = parts.every((part) => part.verdict === 'one-sided' || isCopy(part));
  if (!known || sides.size !== 1) return undefined;
  return sides.has('left') ? 1 : 2;
}

/** A clip that loses a side for a while, in the middle of whatever is said: a plug that comes loose. */
export function interrupted(chance: Chance, frames: number, makers: Maker[]): Case {
  const whole = chance.pick(makers)(chance, frames);
  const lost = chance.integer(0, 1);
  const start = Math.round(frames * chance.between(0.2, 0.5));
  const end = start + Math.round(Math.min(frames * 0.3, chance.between(1.5, 5) * RATE));
  const kind = chance.pick(['nothing', 'hiss'] as const);
  const instead =
    kind === 'nothing' ? new Float64Array(end - start) : hiss(end - start, chance.between(-90, -60), chance.seed());
  const sides = whole.sides.map((side, s) => {
    const out = side.slice(0, frames);
    if (s === lost) out.set(instead, start);
    return out;
  }) as [Mono, Mono];
  return {
    what: `changing: ${whole.what} with ${kind} on the ${lost === 0 ? 'left' : 'right'} for a while`,
    verdict: 'changing',
    sides,
    boundariesSeconds: [start / RATE, end / RATE],
    wholeChannel: isCopy(whole) ? 2 - lost : undefined,
  };
}
