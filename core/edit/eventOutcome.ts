import type { EditProof } from '../schema/editProof.ts';
import type { HandedOffFileFacts, HandedOffRecording } from '../schema/handedOffRecording.ts';
import type { EditEvent } from './edit.ts';
import { layoutWords } from './layoutWords.ts';
import { originOf } from './usedStretches.ts';

/** What becomes of one event of an edit. */
export type EventState =
  /** The same sound on the same channels. */
  | 'same'
  /** Repaired sound, on the channels it had. */
  | 'repaired'
  /** Its layout is another one: other channels, or parallel tracks. */
  | 'relaid'
  /** A channel that carries sound of its own is in none of the new files. */
  | 'loses'
  /** Its recording is left for a person to decide, so it keeps its old file. */
  | 'waits'
  /** It keeps its old file, as the new ones have no picture. */
  | 'picture'
  /** No recording was found for it. */
  | 'missing'
  /** Several recordings fit it. */
  | 'ambiguous';

export interface EventOutcome {
  state: EventState;
  /** The files it plays from now on, the first on its own track; none where it stays as it is. */
  files: HandedOffFileFacts[];
  /** Of the recording's own time, where the new files begin and end. */
  piece: { startSeconds: number; endSeconds: number } | null;
  /** Channels of the recording whose own sound is gone. */
  lost: number[];
}

/** What became of one event of an edit, with the recording it uses; null where none or several fit. */
export interface LinkedEvent extends EventOutcome {
  event: EditEvent;
  recording: HandedOffRecording | null;
}

/** An edit as it was written again, and whether it plays what the old one played. */
export interface WrittenEdit {
  name: string;
  events: LinkedEvent[];
  proof: EditProof;
}

const STAYS = { files: [], piece: null, lost: [] };

/** @param recordings those that fit the event: one, or it stays as it is */
export function outcomeOf(event: EditEvent, recordings: readonly HandedOffRecording[]): EventOutcome {
  if (recordings.length === 0) return { state: 'missing', ...STAYS };
  if (recordings.length > 1) return { state: 'ambiguous', ...STAYS };
  const [recording] = recordings;
  const piece = pieceFor(event, recording);
  if (piece === null) return { state: 'waits', ...STAYS };
  const { files } = piece;
  if (event.isPicture && recording.hasPicture && !files[0].hasPicture) return { state: 'picture', ...STAYS };
  const span = { startSeconds: piece.startSeconds, endSeconds: piece.endSeconds };
  const isLaidAlike = files.length === 1 && sameLayout(recording.streams, files[0]);
  const state =
    recording.lost.length > 0 && !event.isPicture
      ? 'loses'
      : !isLaidAlike
        ? 'relaid'
        : isStraight(files[0])
          ? 'same'
          : 'repaired';
  return { state, files, piece: span, lost: recording.lost };
}

/** What is different about the new files, in a sentence; null where they simply take the old one's place. */
export function outcomeNote({ files }: EventOutcome, { streams, lost }: HandedOffRecording): string | null {
  if (files.length === 0) return null;
  const nameOf = ({ path }: HandedOffFileFacts): string => path.slice(path.lastIndexOf('/') + 1);
  const now = layoutWords(files[0].streams.map(({ length }) => length));
  const was = layoutWords(streams);
  const sentences = [
    files.length > 1
      ? `was ${was}, is ${files.length} files on parallel tracks now: ${files.map(nameOf).join(', ')}`
      : was !== now
        ? `was ${was}, is ${now} now`
        : null,
    lost.length > 0 ? `channel ${lost.join(', ')} of the old file carries sound of its own and is left out` : null,
  ].filter((sentence) => sentence !== null);
  return sentences.length > 0 ? sentences.join('; ') : null;
}

/** The piece that holds an event's stretch; null where the recording was left. */
function pieceFor(event: EditEvent, recording: HandedOffRecording): HandedOffRecording['pieces'][number] | null {
  const { pieces } = recording;
  if (event.startSeconds === null || event.endSeconds === null) return pieces[0] ?? null;
  const middle = (event.startSeconds + event.endSeconds) / 2 - originOf(event, recording);
  return (
    pieces.find(({ startSeconds, endSeconds }) => middle >= startSeconds && middle <= endSeconds) ?? pieces[0] ?? null
  );
}

function sameLayout(before: readonly number[], { streams }: HandedOffFileFacts): boolean {
  return before.length === streams.length && streams.every((channels, i) => channels.length === before[i]);
}

/** Every channel where it was. */
function isStraight({ streams }: HandedOffFileFacts): boolean {
  return streams.flat().every((from, i) => from.length === 1 && from[0] === i + 1);
}
