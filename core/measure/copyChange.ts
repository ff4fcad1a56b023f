import type { PairMatch } from './pairMatch.ts';

/** Looks at `most` stretches within blocks `from` up to `to` of the pair in question. */
export type Look = (from: number, to: number, most?: number) => Promise<PairMatch | null>;

// What undoing must bring for a stretch to be one signal on both sides, and what it brings at most where it is not.
const COPY_NULL_DB = -20;
const COPY_GAIN_DB = 12;
const PLAIN_COPY_NULL_DB = -36;
const APART_NULL_DB = -16;
// Enough to see whether an end of a clip is a copy.
const STRETCHES_AN_END = 6;
const LEAST_SECONDS = 4.5;
const WINDOW_SECONDS = 1;
// What is looked at in a window begins with it, but ends before it: filters are fitted to the start of its last stretch.
const UNSEEN_SECONDS = 0.2;
const PRECISION_SECONDS = 0.1;

/**
 * Finds where one signal in disguise gives way to two different ones, or the other way round, which block sums can't show. The ends
 * are looked at, and where only one of them is a copy, the boundary is halved in: a second that ends before it is a
 * copy, one that reaches over it is not.
 * @returns the block of the boundary; null where nothing of the kind happens
 */
export async function findCopyChange(whole: PairMatch, from: number, to: number, blockSeconds: number, look: Look): Promise<number | null> {
  if (isCopy(whole) || (to - from) * blockSeconds < LEAST_SECONDS) return null;
  const third = Math.floor((to - from) / 3);
  const [first, last] = [await look(from, from + third, STRETCHES_AN_END), await look(to - third, to, STRETCHES_AN_END)];
  if (!first || !last || isCopy(first) === isCopy(last)) return null;
  const copyFirst = isCopy(first);
  if ((copyFirst ? last : first).matchedNullDb < APART_NULL_DB) return null;
  const [window, unseen] = [WINDOW_SECONDS, UNSEEN_SECONDS].map((seconds) => Math.round(seconds / blockSeconds));
  let [copy, apart] = copyFirst ? [from + third, to - third] : [to - third, from + third];
  while (Math.abs(apart - copy) * blockSeconds > PRECISION_SECONDS) {
    const middle = copyFirst ? Math.ceil((copy + apart) / 2) : Math.floor((copy + apart) / 2);
    if (middle === copy || middle === apart) break;
    const match = copyFirst
      ? await look(Math.max(from, middle + unseen - window), Math.min(to, middle + unseen)) : await look(middle, Math.min(to, middle + window));
    if (match === null || isCopy(match)) copy = middle;
    else apart = middle;
  }
  return Math.round((copy + apart) / 2);
}

function isCopy({ plainNullDb, matchedNullDb }: PairMatch): boolean {
  return plainNullDb <= PLAIN_COPY_NULL_DB || (matchedNullDb <= COPY_NULL_DB && plainNullDb - matchedNullDb >= COPY_GAIN_DB);
}
