import type { EditEvent } from '../edit.ts';
import type { CmxEdit } from './cmxEdit.ts';

// CMX 3600 has four channels of sound (SMPTE 258M).
const MOST_CHANNELS = 4;

/**
 * On which channels of the film the files of an event can lie, one each: its own first, then those that nothing else has at that time.
 * Worked out before anything is written, for as many files as each recording could become, so that what is promised holds.
 * @param mostFiles of each event's recording at most
 * @returns one list an event; shorter than asked where the form cannot say it: within transitions, and where all four channels are taken
 */
export function fileChannels({ events, blocks }: CmxEdit, mostFiles: (event: EditEvent) => number): number[][] {
  const taken = events.map(({ channels }) => [...(channels ?? [])]);
  return events.map((event, i) => {
    const own = [...(event.channels ?? [])];
    if (!blocks[i].isPlainCut) return own.slice(0, 1);
    const wanted = mostFiles(event);
    for (let channel = 1; channel <= MOST_CHANNELS && own.length > 0 && own.length < wanted; channel++) {
      const isFree = events.every((other, k) => !overlap(event, other) || !taken[k].includes(channel));
      if (!isFree) continue;
      own.push(channel);
      taken[i].push(channel);
    }
    return own;
  });
}

function overlap(a: EditEvent, b: EditEvent): boolean {
  if (a.recordStartSeconds === null || b.recordStartSeconds === null) return true;
  if (a.recordEndSeconds === null || b.recordEndSeconds === null) return true;
  return a.recordStartSeconds < b.recordEndSeconds && b.recordStartSeconds < a.recordEndSeconds;
}
