import type { LineUp } from '../../schema/proposal.ts';
import type { InputTrim } from '../../schema/repair.ts';
import { NO_TRIM } from './trims.ts';

// Nearer to a whole sample than measuring goes, the whole one is meant: it is moved exactly.
const WHOLE_WITHIN = 0.06;

/**
 * The trims that undo a difference in time: the earlier channel waits. Where the difference moves the second channel is the one that is
 * recalculated, and the first waits for as long as it takes that nothing of the second comes earlier than it is there. Polarity stays.
 */
export function lineUpTrims(
  [first, second]: [number, number],
  { delaySamples, driftPpm, jump }: Pick<LineUp, 'delaySamples' | 'driftPpm' | 'jump'>,
  { frames, sampleRate }: { frames: number; sampleRate: number },
): InputTrim[] {
  if (driftPpm === 0 && !jump) {
    if (delaySamples === 0) return [];
    return [{ ...NO_TRIM, channel: delaySamples > 0 ? first : second, delaySamples: Math.abs(delaySamples) }];
  }
  const slope = 1e-6 * driftPpm;
  const atEnd = delaySamples + (jump?.delaySamples ?? 0) + (slope * frames) / (1 + slope);
  const wait = Math.max(0, Math.ceil(delaySamples), Math.ceil(atEnd));
  // With u of the first heard at u + wait, the second must be heard at u + delay + slope (u + delay) then.
  const moved = (wait - delaySamples) * (1 + slope);
  const waits = wait === 0 ? [] : [{ ...NO_TRIM, channel: first, delaySamples: wait }];
  return [
    ...waits,
    {
      ...NO_TRIM,
      channel: second,
      delaySamples: jump && slope === 0 ? nearWhole(moved) : hundredth(moved),
      course: {
        driftPpm: driftPpm === 0 ? 0 : -driftPpm,
        jump: jump && {
          // To the end of what came before it nothing is taken away.
          atFrame: Math.max(0, Math.round(jump.atSeconds * sampleRate + moved)),
          samples: -jump.delaySamples,
        },
      },
    },
  ];
}

/** A delay as it is moved: whole where measuring can't tell it from a whole one. */
export function nearWhole(samples: number): number {
  const whole = Math.round(samples);
  return Math.abs(samples - whole) <= WHOLE_WITHIN ? whole : hundredth(samples);
}

export function hundredth(samples: number): number {
  return Math.round(samples * 100) / 100;
}
