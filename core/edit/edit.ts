/** One stretch of a recording that the cut film uses, as its edit says. */
export interface EditEvent {
  /** From 0, in the order of the file; what is written again is found by it. */
  index: number;
  /** What the edit calls the clip. */
  name: string | null;
  /** Where the edit says that its file lies: a path or an address, as written there. */
  target: string | null;
  reel: string | null;
  /** Where the stretch begins and ends in the recording's own time (its timecode where it has one), in seconds; null where that is not said. */
  startSeconds: number | null;
  endSeconds: number | null;
  /** Where the recording's own time begins, as the edit says; null where it does not. */
  mediaStartSeconds: number | null;
}

/** What an event points to from now on. */
export interface Replacement {
  /** The new file, as it is to stand in the edit. */
  target: string;
  name: string;
  /** What is different about it, in a sentence; null where it simply takes the old one's place. */
  note: string | null;
  /** Of the recording's own time, what the new file holds; null where it holds all of it. */
  range: { startSeconds: number; durationSeconds: number } | null;
}

/** The last part of a path or of an address: "take 1.wav" of "file:///card/take%201.wav". */
export function fileNameOf(target: string): string {
  const path = pathOf(target);
  return path.slice(Math.max(path.lastIndexOf('/'), path.lastIndexOf('\\')) + 1);
}

/** The path that a target means: addresses of files are decoded, whatever is behind a ? or # stays out. */
export function pathOf(target: string): string {
  if (!/^file:/i.test(target)) return target;
  const path = target.replace(/^file:(\/\/[^/]*)?/i, '').replace(/[?#].*$/, '');
  try {
    return decodeURIComponent(path);
  } catch {
    return path;
  }
}
