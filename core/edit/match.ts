import { fileNameOf, pathOf, type EditEvent } from './edit.ts';

/** A recording that an edit may use. */
export interface EditClip {
  path: string;
  reel: string | null;
  /** Its start in its own timecode; null where it has none. */
  startSeconds: number | null;
  durationSeconds: number;
}

/** Which recording an event uses: its place in the list; several where nothing tells them apart; none where it is missing. */
export type EventMatch = number[];

// A timecode is good to a frame.
const NEAR_SECONDS = 0.1;

/** Matches events by path, then file name, then name without its ending, then reel; timecode tells apart what these leave. */
export function matchEvents(events: readonly EditEvent[], clips: readonly EditClip[]): EventMatch[] {
  return events.map((event) => {
    for (const likely of [byPath, byFileName, byStem, byReel]) {
      const found = clips.flatMap((clip, i) => (likely(event, clip) ? [i] : []));
      if (found.length === 0) continue;
      return narrowed(event, found, clips);
    }
    return [];
  });
}

/** Of several, those that the longest end of the path fits; of those, those whose time holds the stretch. */
function narrowed(event: EditEvent, found: number[], clips: readonly EditClip[]): number[] {
  if (found.length === 1) return found;
  const target = event.target === null ? null : segments(pathOf(event.target));
  const shared = found.map((i) => (target ? commonEnd(target, segments(clips[i].path)) : 0));
  const most = Math.max(...shared);
  const nearest = found.filter((_, k) => shared[k] === most);
  const inTime = nearest.filter((i) => holds(clips[i], event));
  return inTime.length > 0 ? inTime : nearest;
}

function byPath({ target }: EditEvent, { path }: EditClip): boolean {
  return target !== null && pathOf(target) === path;
}

function byFileName(event: EditEvent, { path }: EditClip): boolean {
  const name = same(fileNameOf(path));
  return namesOf(event).some((other) => same(other) === name);
}

function byStem(event: EditEvent, { path }: EditClip): boolean {
  const stem = same(stemOf(fileNameOf(path)));
  return namesOf(event).some((other) => same(stemOf(other)) === stem);
}

/** A reel is the tape, or the beginning of a file's name in eight letters or more, as lists have room for. */
function byReel({ reel }: EditEvent, { path, reel: tape }: EditClip): boolean {
  if (reel === null) return false;
  const [wanted, stem] = [plain(reel), plain(stemOf(fileNameOf(path)))];
  if (wanted === '') return false;
  return (
    (tape !== null && plain(tape) === wanted) || stem === wanted || (wanted.length >= 8 && stem.startsWith(wanted))
  );
}

function namesOf({ name, target }: EditEvent): string[] {
  return [...(target === null ? [] : [fileNameOf(target)]), ...(name === null ? [] : [fileNameOf(name)])];
}

function holds({ startSeconds, durationSeconds }: EditClip, event: EditEvent): boolean {
  if (event.startSeconds === null || event.endSeconds === null) return false;
  const start = startSeconds ?? 0;
  return event.startSeconds >= start - NEAR_SECONDS && event.endSeconds <= start + durationSeconds + NEAR_SECONDS;
}

function commonEnd(a: string[], b: string[]): number {
  let count = 0;
  while (count < a.length && count < b.length && same(a[a.length - 1 - count]) === same(b[b.length - 1 - count]))
    count++;
  return count;
}

function segments(path: string): string[] {
  return path.split(/[\\/]+/).filter((part) => part !== '');
}

/** However a disk writes accents and upper case. */
function same(text: string): string {
  return text.normalize('NFC').toLowerCase();
}

function plain(text: string): string {
  return same(text).replace(/[^\p{L}\p{N}]/gu, '');
}

function stemOf(name: string): string {
  return name.replace(/\.[^.]{1,5}$/, '');
}
