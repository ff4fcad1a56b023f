import type { Inspection } from '../../schema/inspection.ts';
import type { InputTrim } from '../../schema/repair.ts';

/** Which way sides are brought together: the louder down, the quieter up, or each half the way. */
export type BalanceWay = 'down' | 'up' | 'middle';

export interface Balance {
  trims: InputTrim[];
  /** Where the noise of the side that comes up lies then; null where none comes up. */
  noiseFloorDbfs: number | null;
  /** The true peak of the side that comes up, then. */
  truePeakDbtp: number | null;
}

/**
 * Gains that bring two channels to the same loudness, or to a chosen difference.
 * @param wantedLu the first louder than the second by so much afterwards
 * @returns null where one of them has no loudness
 */
export function balance(
  { channels }: Pick<Inspection, 'channels'>,
  [first, second]: [number, number],
  way: BalanceWay,
  wantedLu = 0,
): Balance | null {
  const a = channels[first - 1];
  const b = channels[second - 1];
  if (a.loudnessLufs === null || b.loudnessLufs === null) return null;
  const surplusLu = a.loudnessLufs - b.loudnessLufs - wantedLu;
  const [louder, quieter] = surplusLu > 0 ? [a, b] : [b, a];
  const apart = Math.abs(surplusLu);
  const share = way === 'down' ? 0 : way === 'up' ? 1 : 0.5;
  const trim = (channel: number, gainDb: number): InputTrim => ({
    channel,
    gainDb,
    polarity: 'normal',
    delaySamples: 0,
  });
  const upDb = share * apart;
  const plus = (level: number | null): number | null => (upDb === 0 || level === null ? null : level + upDb);
  return {
    trims: [trim(louder.channel, upDb - apart), trim(quieter.channel, upDb)].filter(({ gainDb }) => gainDb !== 0),
    noiseFloorDbfs: plus(quieter.noiseFloorDbfs),
    truePeakDbtp: plus(quieter.truePeakDbtp),
  };
}
