import type { DelayCourse, InputTrim } from '../../schema/repair.ts';

/** The part of a trim that says how its delay goes on: nothing where it stays. */
function courseOf(course: DelayCourse | undefined): Pick<InputTrim, 'course'> {
  return course ? { course } : {};
}

export const NO_TRIM = { gainDb: 0, polarity: 'normal', delaySamples: 0 } as const satisfies Omit<InputTrim, 'channel'>;

/** Gains and delays of one channel add up; two turns upside down cancel; of two courses of a delay the later one holds. */
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
            ...courseOf(trim.course ?? sum.course),
          },
    );
  }
  return [...byChannel.values()];
}
