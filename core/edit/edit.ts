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
  /** Where it lies in the film, on the film's own clock; null where the edit does not say. */
  recordStartSeconds: number | null;
  recordEndSeconds: number | null;
  /** The track it lies on, by its name. */
  track: string | null;
  /** It shows its picture, and does not sound. */
  isPicture: boolean;
  /** Whether it is switched on. */
  isEnabled: boolean;
  /** How fast it plays; 1 as recorded. */
  speed: number;
  /** Which sound channels of the film a list puts it on; null where an edit has tracks instead. */
  channels: number[] | null;
}

/** A new file, as it is to stand in the edit. */
export interface MediaFile {
  target: string;
  name: string;
}

/** What an event points to from now on. */
export interface Replacement extends MediaFile {
  /** What else its recording became: files that play in step with it, and what is on each. */
  further: (MediaFile & { label: string })[];
  /** What is different about it, in a sentence; null where it simply takes the old one's place. */
  note: string | null;
  /** Of the recording's own time, what the new file holds; null where it holds all of it. A picture's is whole frames. */
  range: { startSeconds: number; durationSeconds: number; sampleRate: number; isPicture: boolean } | null;
}

/** Something worth seeing on a clip of the edit, in the recording's own time. */
export interface EditMarker {
  name: string;
  comment: string;
  startSeconds: number;
  durationSeconds: number;
}

/** What of an edit is written anew. */
export interface WriteEdit {
  /** null where an event stays. */
  replacementOf: (event: EditEvent) => Replacement | null;
  /** An address as it leads to the same file from the edit's new place; null where it does already. */
  movedTarget: (target: string) => string | null;
  markersOf?: (event: EditEvent) => EditMarker[];
}

/** What a person is told of an event: as the edit calls it. */
export function nameOfEvent({ target, name, reel }: Pick<EditEvent, 'target' | 'name' | 'reel'>): string {
  return target ?? name ?? reel ?? 'an event without a name';
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
