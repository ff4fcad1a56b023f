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
// Lists have room for so many letters of a file's name.
const REEL_LETTERS = 8;

/** Matches events by path, then file name, then name without its ending, then reel; timecode tells apart what these leave. */
export function matchEvents(events: readonly EditEvent[], clips: readonly EditClip[]): EventMatch[] {
  const names = clips.map(({ path }) => same(fileNameOf(path)));
  const stems = names.map((name) => plain(stemOf(name)));
  const byPath = placesOf(clips.map(({ path }) => [path]));
  const byName = placesOf(names.map((name) => [name]));
  const byStem = placesOf(names.map((name) => [stemOf(name)]));
  const byReel = placesOf(
    clips.map(({ reel }, i) => [stems[i], ...(reel === null || plain(reel) === stems[i] ? [] : [plain(reel)])]),
  );
  return events.map((event) => {
    const wanted = namesOf(event).map(same);
    const reel = event.reel === null ? '' : plain(event.reel);
    const likely = [
      () => (event.target === null ? [] : (byPath.get(pathOf(event.target)) ?? [])),
      () => inOrder(wanted.flatMap((name) => byName.get(name) ?? [])),
      () => inOrder(wanted.flatMap((name) => byStem.get(stemOf(name)) ?? [])),
      () => (reel === '' ? [] : reelsLike(reel, byReel, stems)),
    ];
    for (const find of likely) {
      const found = find();
      if (found.length > 0) return narrowed(event, found, clips);
    }
    return [];
  });
}

/** A reel is the tape, or the beginning of a file's name in eight letters or more. */
function reelsLike(reel: string, byReel: Map<string, number[]>, stems: string[]): number[] {
  const whole = byReel.get(reel) ?? [];
  if (reel.length < REEL_LETTERS) return whole;
  return inOrder([...whole, ...stems.flatMap((stem, i) => (stem.startsWith(reel) ? [i] : []))]);
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

/** Where each key stands: thousands of events are looked up among thousands of clips. */
function placesOf(keys: string[][]): Map<string, number[]> {
  const places = new Map<string, number[]>();
  for (const [i, mine] of keys.entries())
    for (const key of mine) {
      const there = places.get(key);
      if (there) there.push(i);
      else places.set(key, [i]);
    }
  return places;
}

function inOrder(places: number[]): number[] {
  return [...new Set(places)].sort((a, b) => a - b);
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
