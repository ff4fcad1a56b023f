import type { InputTrim } from '../../schema/repair.ts';

export const NO_TRIM = { gainDb: 0, polarity: 'normal', delaySamples: 0 } as const satisfies Omit<InputTrim, 'channel'>;

/** Gains and delays of one channel add up; two turns upside down cancel. */
export function addTrims(...lists: readonly (readonly InputTrim[])[]): InputTrim[] {
  const byChannel = new Map<number, InputTrim>();
  for (const trim of lists.flat()) {
    const sum = byChannel.get(trim.channel);
    byChannel.set(
      trim.channel,
      !sum
        ? trim
        : {
            channel: trim.channel,
            gainDb: sum.gainDb + trim.gainDb,
            delaySamples: sum.delaySamples + trim.delaySamples,
            polarity: sum.polarity === trim.polarity ? 'normal' : 'inverted',
          },
    );
  }
  return [...byChannel.values()];
}
