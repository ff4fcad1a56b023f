import { basename, extname, isAbsolute, join, relative, resolve, sep } from 'node:path';
import { pathToFileURL } from 'node:url';
import { isRecording, readCmx } from '@pocket-twin/core/edit/cmx/cmxEdit.ts';
import { fileChannels } from '@pocket-twin/core/edit/cmx/listChannels.ts';
import { writeCmx } from '@pocket-twin/core/edit/cmx/writeCmx.ts';
import {
  pathOf,
  type EditEvent,
  type EditMarker,
  type Replacement,
  type WriteEdit,
} from '@pocket-twin/core/edit/edit.ts';
import { outcomeNote, outcomeOf, type LinkedEvent } from '@pocket-twin/core/edit/eventOutcome.ts';
import { matchEvents, type EditClip, type EventMatch } from '@pocket-twin/core/edit/match.ts';
import { readOtio } from '@pocket-twin/core/edit/otio/otioEdit.ts';
import { writeOtio } from '@pocket-twin/core/edit/otio/writeOtio.ts';
import { originOf } from '@pocket-twin/core/edit/usedStretches.ts';
import type { HandedOffFileFacts, HandedOffRecording } from '@pocket-twin/core/schema/handedOffRecording.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { FrameRate } from '@pocket-twin/core/time/frameRates.ts';

interface LinkedEdit {
  text: string;
  /** One an event that uses a recording; titles, black and the like are none. */
  events: LinkedEvent[];
}

/** An edit as it was read, to be written again with new files. */
export interface EditFile {
  /** The stretches of recordings in it; titles, black and the like are none. */
  events: EditEvent[];
  /** Which of the recordings each event uses, as `matchEvents` tells. */
  matches: (clips: readonly EditClip[]) => EventMatch[];
  /** What of each recording is used: its events, none where it is not in the edit. */
  used: (clips: readonly EditClip[]) => EditEvent[][];
  /**
   * Which of the recordings can become several files each: an edit with tracks gets parallel ones, a list has room for so many channels only.
   * @param mostFiles of each at most
   */
  takesSeveral: (clips: readonly EditClip[], mostFiles: readonly number[]) => boolean[];
  /** @param folder where the new files lie; null where nobody knows yet: then they are named from where the edit lies */
  link: (
    recordings: readonly HandedOffRecording[],
    folder: string | null,
    markersOf?: (event: EditEvent, recording: HandedOffRecording) => EditMarker[],
  ) => LinkedEdit;
}

// Lists do not say how many frames a second have; the recordings do, or this is meant.
const LIST_RATE: FrameRate = { numerator: 25, denominator: 1, dropFrame: false };

/**
 * @param fileName with its ending, which says what it is
 * @param home the folder that relative paths in it are meant from; null where nobody knows
 * @param rate of the picture's frames, where it is known. @throws Refusal where it is not an edit
 */
export function editFrom(text: string, fileName: string, home: string | null, rate: FrameRate = LIST_RATE): EditFile {
  const ending = extname(fileName).toLowerCase();
  if (ending === '.otio') {
    const edit = readOtio(text, basename(fileName));
    return linkable(edit.events, home, {
      write: (changes) => writeOtio(edit, changes),
      channels: () => null,
    });
  }
  if (ending === '.edl') {
    const edit = readCmx(text, rate, basename(fileName));
    return linkable(edit.events, home, {
      write: (changes, channels) => writeCmx(edit, changes, (index) => channels?.[index] ?? []),
      channels: (mostFiles) => fileChannels(edit, mostFiles),
    });
  }
  throw new Refusal('bad-request', `${fileName} is neither .otio nor .edl. Export the edit as one of them.`);
}

interface Form {
  write: (changes: WriteEdit, channels: number[][] | null) => string;
  /** The channels of the film that each event's files could lie on; null where the form has tracks instead. */
  channels: (mostFiles: (event: EditEvent) => number) => number[][] | null;
}

function linkable(events: EditEvent[], home: string | null, form: Form): EditFile {
  const wanted = events.filter(isRecording);
  // A relative path is meant from where the edit lies.
  const placed = wanted.map((event) => ({
    ...event,
    target: event.target && home !== null ? absolute(event.target, home) : event.target,
  }));
  const matches = (clips: readonly EditClip[]): EventMatch[] => matchEvents(placed, clips);
  const channelsFor = (found: EventMatch[], mostFiles: (clip: number) => number): number[][] | null => {
    const clipOf = new Map(wanted.map(({ index }, i) => [index, found[i].length === 1 ? found[i][0] : null]));
    return form.channels(({ index }) => {
      const clip = clipOf.get(index) ?? null;
      return clip === null ? 1 : mostFiles(clip);
    });
  };
  return {
    events: wanted,
    matches,
    used: (clips) => {
      const found = matches(clips);
      return clips.map((_, clip) => wanted.filter((_event, i) => found[i].length === 1 && found[i][0] === clip));
    },
    takesSeveral: (clips, mostFiles) => {
      const found = matches(clips);
      const channels = channelsFor(found, (clip) => mostFiles[clip]);
      return clips.map((_, clip) =>
        wanted.every(
          ({ index }, i) => !found[i].includes(clip) || !channels || channels[index].length >= mostFiles[clip],
        ),
      );
    },
    link: (recordings, folder, markersOf) => {
      const found = matches(recordings);
      const linked = wanted.map((event, i): LinkedEvent => {
        const fitting = found[i].map((at) => recordings[at]);
        return { ...outcomeOf(event, fitting), event, recording: fitting.length === 1 ? fitting[0] : null };
      });
      const byIndex = new Map(linked.map((one) => [one.event.index, one]));
      const mostFiles = recordings.map(({ pieces }) => Math.max(1, ...pieces.map(({ files }) => files.length)));
      const changes: WriteEdit = {
        replacementOf: ({ index }) => replacementFor(byIndex.get(index), folder),
        movedTarget: (target) => movedTarget(target, home, folder),
        markersOf: (event) => {
          const recording = byIndex.get(event.index)?.recording;
          return recording && markersOf ? markersOf(event, recording) : [];
        },
      };
      return {
        text: form.write(
          changes,
          channelsFor(found, (clip) => mostFiles[clip]),
        ),
        events: linked,
      };
    },
  };
}

/** null where the event stays as it is. */
function replacementFor(linked: LinkedEvent | undefined, folder: string | null): Replacement | null {
  const { event, recording, files, piece } = linked ?? {};
  if (!event || !recording || !piece || !files || files.length === 0) return null;
  const { durationSeconds, sampleRate, hasPicture } = recording;
  const mediaOf = ({ path, label }: HandedOffFileFacts) => ({
    target: folder === null ? path : inTheStyleOf(event.target, join(folder, path), folder),
    name: basename(path),
    label,
  });
  const [first, ...further] = files.map(mediaOf);
  const isWhole = piece.startSeconds === 0 && piece.endSeconds >= durationSeconds;
  return {
    ...first,
    further,
    note: outcomeNote(linked!, recording),
    range: isWhole
      ? null
      : {
          startSeconds: originOf(event, recording) + piece.startSeconds,
          durationSeconds: piece.endSeconds - piece.startSeconds,
          sampleRate,
          isPicture: hasPicture && files[0].hasPicture,
        },
  };
}

/** As the old file was written: an address, a whole path, or a path from where the edit lies, which is the handoff's folder now. */
function inTheStyleOf(target: string | null, path: string, folder: string): string {
  if (target !== null && /^file:/i.test(target)) return pathToFileURL(path).href;
  if (target !== null && isAbsolute(target)) return path;
  return relativeFrom(folder, path);
}

/** A path that was meant from the edit's old place, as it leads to the same file from the new one; null where it leads there anyway. */
function movedTarget(target: string, home: string | null, folder: string | null): string | null {
  if (home === null || folder === null || /^[a-z][a-z0-9+.-]+:/i.test(target) || isWhole(target)) return null;
  return relativeFrom(folder, resolve(home, target));
}

function relativeFrom(folder: string, path: string): string {
  return relative(folder, path).split(sep).join('/');
}

function absolute(target: string, home: string): string {
  const path = pathOf(target);
  return isWhole(path) ? target : resolve(home, path);
}

function isWhole(path: string): boolean {
  return isAbsolute(path) || /^[a-z]:[\\/]/i.test(path) || path.startsWith('\\\\');
}
