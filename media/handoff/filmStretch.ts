import { basename } from 'node:path';
import type { SecondsSpan } from '@pocket-twin/core/time/spans.ts';
import { CONFINED, FFPROBE, fileWord, QUIET, type CodedInput } from '../ffmpeg/coded.ts';
import { probeFile } from '../ffmpeg/probe.ts';
import { Run } from '../ffmpeg/run.ts';

/** A stretch of a film's picture that can be copied packet by packet, on the film's own clock, from its start. */
export interface FilmStretch {
  /** Of its first packet; null where it begins with the film. */
  startSeconds: number | null;
  /** null where it ends with the film. */
  endSeconds: number | null;
  /** Packets of its picture; null to the end of the film. */
  packets: number | null;
}

// A picture that stands alone comes at least so often in what cameras and editors write; where none does the stretch goes on to the end of the film.
const SEARCHED_SECONDS = 60;
// Containers look for a picture by when it is decoded, which may be so much before it is shown: sixteen pictures at the slowest rate of films.
const DECODED_BEFORE_SECONDS = 1;
/** Containers without a list of pictures that stand alone: looking for a time in them leads to anywhere near it, so they are read from their start. */
const WITHOUT_INDEX = new Set(['mpegts']);
// Half a tick of the coarsest clock in use, of a thousandth of a second.
export const SAME_TIME_SECONDS = 0.0005;

/**
 * The shortest stretch of a film that holds a wanted one and can be taken out of it as it is: it begins with a picture that stands alone, and ends before one.
 * @param wanted on the film's own clock, from its start
 */
export async function filmStretch(film: CodedInput, wanted: SecondsSpan): Promise<FilmStretch> {
  const { startSeconds: origin } = await probeFile(film);
  const from = Math.max(0, wanted.startSeconds);
  if (hasIndex(film)) {
    const found = await stretchIn(film, { ...wanted, startSeconds: from }, origin, from - DECODED_BEFORE_SECONDS);
    if ((found.startSeconds ?? 0) <= from + SAME_TIME_SECONDS) return found;
  }
  return stretchIn(film, { ...wanted, startSeconds: from }, origin, null);
}

/** Whether a time can be looked for in it. */
export function hasIndex({ demuxer }: CodedInput): boolean {
  return !WITHOUT_INDEX.has(demuxer);
}

/** @param lookFrom where it is read from; null from its start */
async function stretchIn(
  film: CodedInput,
  { startSeconds: from, endSeconds }: SecondsSpan,
  origin: number,
  lookFrom: number | null,
): Promise<FilmStretch> {
  const isOver = ({ shownUntil }: PossibleEnd): boolean => shownUntil >= endSeconds - SAME_TIME_SECONDS;
  let first: number | null = null;
  let end: PossibleEnd | null = null;
  let packets = 0;
  for await (const { seconds, isKey } of picturePackets(
    film,
    lookFrom === null ? null : origin + Math.max(0, lookFrom),
    origin + endSeconds + SEARCHED_SECONDS,
  )) {
    const at = seconds - origin;
    if (end && !isKey && at < end.at) end.shownUntil = Math.min(end.shownUntil, at);
    else if (end && isOver(end)) break;
    else end = null;
    if (isKey && first !== null && at >= endSeconds - SAME_TIME_SECONDS) end = { at, shownUntil: at, packets };
    // The last of those that come before what is wanted.
    if (isKey && (first === null || at <= from + SAME_TIME_SECONDS)) {
      first = at;
      packets = 0;
    }
    packets++;
  }
  const begins = first === null || first <= SAME_TIME_SECONDS ? null : first;
  return end && isOver(end)
    ? { startSeconds: begins, endSeconds: end.shownUntil, packets: end.packets }
    : { startSeconds: begins, endSeconds: null, packets: null };
}

/** A picture that stands alone: what comes before it can be copied without it. */
interface PossibleEnd {
  at: number;
  /** Pictures that are shown before it may need it, and come after it then: they are missing where it is. */
  shownUntil: number;
  /** Before it. */
  packets: number;
}

/** The packets of the first picture stream, from the last one before a time that stands alone, in the order in which they are decoded. */
async function* picturePackets(
  film: CodedInput,
  fromSeconds: number | null,
  toSeconds: number,
): AsyncGenerator<{ seconds: number; isKey: boolean }> {
  const run = new Run(
    FFPROBE,
    [
      ...[...QUIET, ...CONFINED, '-f', film.demuxer, '-select_streams', 'v:0', '-of', 'csv=p=0'],
      ...['-show_entries', 'packet=pts_time,dts_time,flags'],
      ...[
        '-read_intervals',
        `${fromSeconds === null ? '' : fromSeconds.toFixed(6)}%${toSeconds.toFixed(6)}`,
        fileWord(film.path),
      ],
    ],
    basename(film.path),
  );
  try {
    let rest = '';
    for await (const piece of run.pieces()) {
      const lines = (rest + piece.toString('latin1')).split('\n');
      rest = lines.pop()!;
      for (const line of lines) {
        const [shown, decoded, flags = ''] = line.split(',');
        const seconds = Number(shown === 'N/A' ? decoded : shown);
        // What is said beside a packet stands on lines of its own.
        if (shown !== '' && Number.isFinite(seconds)) yield { seconds, isKey: flags.startsWith('K') };
      }
    }
  } finally {
    run.stop();
  }
}
