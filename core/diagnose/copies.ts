import type { ChannelReport, PairReport } from '../schema/inspection.ts';
import type { Side } from '../schema/verdict.ts';

/** Of channels that carry one signal the one that is kept: the first whose peaks are not cut off, else the first. */
function keptOf(group: readonly number[], reports: readonly ChannelReport[]): number {
  return group.find((channel) => reports[channel - 1].clippedSamples === 0) ?? group[0];
}

/** Which channel each copy is a copy of. @param duplicates groups of channels with one signal */
export function copiesAmong(
  duplicates: readonly (readonly number[])[],
  reports: readonly ChannelReport[],
): Map<number, number> {
  return new Map(
    duplicates.flatMap((group) => {
      const kept = keptOf(group, reports);
      return group.filter((channel) => channel !== kept).map((copy): [number, number] => [copy, kept]);
    }),
  );
}

/** Of one signal on both sides, the side on which its peaks are cut off while the other has them whole. */
export function cutOffSide({ verdict, channels }: PairReport, reports: readonly ChannelReport[]): Side | null {
  const [left, right] = channels.map((channel) => reports[channel - 1].clippedSamples > 0);
  return verdict !== 'fake-stereo' || left === right ? null : left ? 'left' : 'right';
}
