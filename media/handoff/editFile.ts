import { basename, extname, isAbsolute, join, relative, resolve, sep } from 'node:path';
import { pathToFileURL } from 'node:url';
import { isRecording, readCmx, writeCmx } from '@pocket-twin/core/edit/cmx.ts';
import { pathOf, type EditEvent, type Replacement } from '@pocket-twin/core/edit/edit.ts';
import { matchEvents, type EditClip, type EventMatch } from '@pocket-twin/core/edit/match.ts';
import type { SecondsSpan } from '@pocket-twin/core/time/spans.ts';
import type { FrameRate } from '@pocket-twin/core/time/frameRates.ts';
import { originOf } from '@pocket-twin/core/edit/usedStretches.ts';
import { readOtio, writeOtio } from '@pocket-twin/core/edit/otio.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';

/** A recording with what was handed off of it. */
export interface LinkedClip extends EditClip {
  /** Which stretch of it went into which files, within the folder; none where it was left. */
  pieces: (SecondsSpan & { files: string[] })[];
  channels: { before: number; after: number };
}

interface Linked {
  text: string;
  events: number;
  matched: number;
  missing: string[];
  ambiguous: string[];
}

/** An edit as it was read, to be written again with new files. */
export interface EditFile {
  /** The stretches of recordings in it; titles, black and the like are none. */
  events: EditEvent[];
  /** Which of the recordings each event uses, as `matchEvents` tells. */
  matches: (clips: EditClip[]) => EventMatch[];
  /** What of each recording is used: its events, none where it is not in the edit. */
  used: (clips: EditClip[]) => EditEvent[][];
  /** @param folder where the new files lie; null where nobody knows yet: then they are named from where the edit lies */
  link: (clips: LinkedClip[], folder: string | null) => Linked;
}

// Lists do not say how many frames a second have; the recordings do, or this is meant.
const LIST_RATE: FrameRate = { numerator: 25, denominator: 1, dropFrame: false };

/**
 * @param fileName with its ending, which says what it is
 * @param home the folder that relative paths in it are meant from; null where nobody knows
 * @param rate of the picture's frames, where it is known. @throws Refusal where it is no edit
 */
export function editFrom(text: string, fileName: string, home: string | null, rate: FrameRate = LIST_RATE): EditFile {
  const ending = extname(fileName).toLowerCase();
  if (ending === '.otio') {
    const edit = readOtio(text, basename(fileName));
    return linkable(edit.events, home, (replacementOf) => writeOtio(edit, replacementOf));
  }
  if (ending === '.edl') {
    const edit = readCmx(text, rate, basename(fileName));
    return linkable(edit.events, home, (replacementOf) => writeCmx(edit, replacementOf));
  }
  throw new Refusal('bad-request', `${fileName} is neither .otio nor .edl: export the edit as one of them.`);
}

function linkable(
  events: EditEvent[],
  home: string | null,
  write: (replacementOf: (event: EditEvent) => Replacement | null) => string,
): EditFile {
  const wanted = events.filter(isRecording);
  // A relative path is meant from where the edit lies.
  const placed = wanted.map((event) => ({
    ...event,
    target: event.target && home !== null ? absolute(event.target, home) : event.target,
  }));
  return {
    events: wanted,
    matches: (clips) => matchEvents(placed, clips),
    used: (clips) => {
      const matches = matchEvents(placed, clips);
      return clips.map((_, clip) => wanted.filter((_event, i) => matches[i].length === 1 && matches[i][0] === clip));
    },
    link: (clips, folder) => {
      const matches = matchEvents(placed, clips);
      const replacements = new Map<number, Replacement>();
      const told = { missing: [] as string[], ambiguous: [] as string[], matched: 0 };
      for (const [i, event] of wanted.entries()) {
        const found = matches[i];
        if (found.length === 0) told.missing.push(nameOf(event));
        else if (found.length > 1) told.ambiguous.push(nameOf(event));
        else {
          told.matched++;
          const replacement = replacementFor(event, clips[found[0]], folder);
          if (replacement) replacements.set(event.index, replacement);
        }
      }
      return { text: write(({ index }) => replacements.get(index) ?? null), events: wanted.length, ...told };
    },
  };
}

/** What a person is told of an event that nothing was found for. */
export function nameOf({ target, name, reel }: EditEvent): string {
  return target ?? name ?? reel ?? 'an event without a name';
}

/** null where the recording was left. */
function replacementFor(event: EditEvent, clip: LinkedClip, folder: string | null): Replacement | null {
  const origin = originOf(event, clip);
  const middle = ((event.startSeconds ?? 0) + (event.endSeconds ?? 0)) / 2 - origin;
  const { pieces, channels } = clip;
  const piece =
    pieces.find(({ startSeconds, endSeconds }) => middle >= startSeconds && middle <= endSeconds) ?? pieces[0];
  if (!piece) return null;
  const { before, after } = channels;
  const { files } = piece;
  const isWhole = piece.startSeconds === 0 && piece.endSeconds >= clip.durationSeconds;
  const words = (channels: number): string =>
    channels === 1 ? 'mono' : channels === 2 ? 'stereo' : `${channels} channels`;
  const note =
    files.length > 1
      ? `now ${files.length} files: ${files.map((file) => basename(file)).join(', ')}`
      : before !== after
        ? `was ${words(before)}, is ${words(after)} now`
        : null;
  return {
    target: folder === null ? files[0] : inTheStyleOf(event.target, join(folder, files[0]), folder),
    name: basename(files[0]),
    note,
    range: isWhole
      ? null
      : { startSeconds: origin + piece.startSeconds, durationSeconds: piece.endSeconds - piece.startSeconds },
  };
}

/** As the old file was written: an address, a whole path, or a path from where the edit lies, which is the handoff's folder now. */
function inTheStyleOf(target: string | null, path: string, folder: string): string {
  if (target !== null && /^file:/i.test(target)) return pathToFileURL(path).href;
  if (target !== null && isAbsolute(target)) return path;
  return relative(folder, path).split(sep).join('/');
}

function absolute(target: string, home: string): string {
  const path = pathOf(target);
  return isAbsolute(path) || /^[a-z]:[\\/]/i.test(path) ? target : resolve(home, path);
}
