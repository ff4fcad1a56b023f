import { randomUUID } from 'node:crypto';
import { chmod, chown, mkdir } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { FFMPEG, fileWord, reading, taggedAs, type CodedInput } from '../ffmpeg/coded.ts';
import { confinedOwner } from '../ffmpeg/confine.ts';
import { Run } from '../ffmpeg/run.ts';
import { moveWhole } from '../disk/wholeFile.ts';
import { tagMovieFile } from './movieTags.ts';
import type { FilmStream } from './filmStreams.ts';
import { hasIndex, SAME_TIME_SECONDS } from './filmStretch.ts';
import type { SoundCoding } from './soundCoding.ts';
import { hashOf, PICTURE_PACKETS } from './pictureHash.ts';

/** FFmpeg's muxers, by what a container is called here (container.ts). */
const MUXERS: Record<string, string> = {
  mov: 'mov',
  mp4: 'mp4',
  mkv: 'matroska',
  mxf: 'mxf',
  avi: 'avi',
  ts: 'mpegts',
  webm: 'webm',
};
// Subtitles end there; the picture ends with its last packet, whose time may lie after that of others.
const MARGIN_SECONDS = 0.1;
const OWNER_ONLY = 0o700;
const READ_BY_ALL = 0o644;

/** A sound stream of the new film. */
export interface MuxedSound {
  /** A WAV of our own. */
  path: string;
  channels: number;
  name: string | null;
  language: string | null;
  coding: SoundCoding;
}

/** What of a film is copied, where not all of it is. */
export interface FilmCut {
  /** Of its first packet, from the start of the film; null where it begins with the film. */
  startSeconds: number | null;
  /** null to the end of the film. */
  durationSeconds: number | null;
  /** Of its picture; null to the end of the film. */
  packets: number | null;
  /** Of its first frame; null where nobody knows how many a second has. */
  timecode: string | null;
}

export interface MuxOrder {
  original: CodedInput;
  container: string;
  /** The original's streams, in their order. */
  streams: readonly FilmStream[];
  wavs: MuxedSound[];
  /** What is written into its metadata, by name. */
  tags: Record<string, string>;
  /** How much later than the film the sound of a stretch begins, in seconds; of a whole film its own streams tell. */
  soundStartSeconds: number;
  /** null copies all of the picture. */
  cut: FilmCut | null;
  /** Of the first frame of the picture; null where the film has none. */
  timecode: string | null;
  /** A folder for what is not whole yet, on the target's disk. */
  scratch: string;
  target: string;
  overwrite: boolean;
}

/**
 * The original with other sound: its picture copied packet by packet, its subtitles, covers, attachments, chapters, tags and timecode kept, all streams in
 * their order and at their times. @returns the hash of the original's picture packets, as they were copied. @throws Refusal where it can't be
 */
export async function muxSound(order: MuxOrder): Promise<string> {
  const { original, scratch, target } = order;
  const folder = join(scratch, `mux-${randomUUID()}`);
  await mkdir(folder, { mode: OWNER_ONLY });
  const owner = confinedOwner();
  if (owner !== null) await chown(folder, owner, owner);
  const made = join(folder, 'made');
  const run = new Run(FFMPEG, [...muxWords(order, made), ...PICTURE_PACKETS], basename(original.path));
  const picture = await hashOf(run.pieces());
  const complaint = await run.complaint();
  if (complaint !== null)
    throw new Refusal(
      'damaged',
      `The picture of ${basename(original.path)} could not be copied with its new sound: ${complaint.split('\n')[0].slice(0, 160)}.`,
    );
  if (owner !== null) await chown(made, process.getuid!(), process.getgid!());
  if (isMovie(order) && hasCover(order)) await tagMovieFile(made, order.tags);
  await chmod(made, READ_BY_ALL);
  await mkdir(dirname(target), { recursive: true });
  await moveWhole(made, target, order.overwrite);
  return picture;
}

function muxWords(order: MuxOrder, made: string): string[] {
  const { original, wavs, cut } = order;
  const muxer = MUXERS[order.container];
  const { startSeconds = null, durationSeconds = null, packets = null } = cut ?? {};
  // What can't be looked for is read from its start, with its clock put back.
  const seeks = hasIndex(original);
  // FFmpeg goes back to before what it is asked for, and would copy what lies between. Pictures that are shown before the first need others that are not
  // there. A limit on the number of pictures would end the sound with them.
  const left = [
    ...(startSeconds === null ? [] : [`lt(pts*tb\\,-${SAME_TIME_SECONDS})`]),
    ...(packets === null ? [] : [`gte(n\\,${packets})`]),
  ];
  const shortened = left.length === 0 ? [] : ['-copypriorss:v', '0', '-bsf:v:0', `noise=drop=${left.join('+')}`];
  const layout = newStreams(order);
  return [
    // Every stream keeps the times that it has on the film's own clock.
    ...(cut === null ? ['-copyts'] : []),
    ...(seeks && durationSeconds !== null ? ['-t', (durationSeconds + MARGIN_SECONDS).toFixed(6)] : []),
    ...(!seeks && startSeconds !== null ? ['-itsoffset', (-startSeconds).toFixed(6)] : []),
    ...reading(original, (seeks ? startSeconds : null) ?? undefined),
    ...wavs.flatMap((wav, i) => [...soundTime(order, wav, i), '-f', 'wav', '-i', fileWord(wav.path)]),
    ...layout.flatMap(({ from }) => ['-map', from]),
    ...['-map_metadata', '0', '-map_chapters', '0', '-c', 'copy'],
    ...shortened,
    ...layout.flatMap(({ words }) => words),
    ...timecodeWords(order),
    ...wavs.flatMap(({ coding }, i) => codingWords(coding, i)),
    ...wavs.flatMap((wav, i) => streamTags(wav, i, isMovie(order))),
    ...taggedAs(muxer === 'mxf' ? asMxfComments(order.tags) : order.tags),
    // With it tags of any name are kept, and covers lost.
    ...(isMovie(order) && !hasCover(order) ? ['-movflags', '+use_metadata_tags'] : []),
    ...(muxer === 'matroska' || muxer === 'webm' ? ['-avoid_negative_ts', 'disabled'] : []),
    ...(muxer === 'mpegts' && cut === null ? ['-muxdelay', '0', '-muxpreload', '0', '-mpegts_copyts', '1'] : []),
    ...['-f', muxer, '-y', fileWord(made)],
    ...shortened,
  ];
}

/** A stream of the new film: where it comes from, and what is said of it. */
interface NewStream {
  from: string;
  words: string[];
}

/** The streams in the order that they had, the new sound in the place of the old; what is more of it follows the last. Times of data are not carried by FFmpeg. */
function newStreams({ streams, wavs }: MuxOrder): NewStream[] {
  const sounds = streams.filter(({ kind }) => kind === 'sound');
  const layout: NewStream[] = [];
  const seen = { v: 0, a: 0, s: 0, t: 0 };
  // What is said of one stream explicitly FFmpeg expects to be said of all.
  const add = (type: keyof typeof seen, from: string, old: FilmStream | null): void => {
    const place = `${type}:${seen[type]++}`;
    const disposition = old === null || type === 't' ? [] : [`-disposition:${place}`, old.flags.join('+') || '0'];
    const told = old === null ? [] : [`-map_metadata:s:${place}`, `0:s:${old.index}`];
    layout.push({ from, words: [...disposition, ...told] });
  };
  for (const stream of streams) {
    const { kind, index } = stream;
    if (kind === 'picture' || kind === 'cover') add('v', `0:${index}`, stream);
    else if (kind === 'subtitles') add('s', `0:${index}`, stream);
    else if (kind === 'attachment') add('t', `0:${index}`, stream);
    else if (kind === 'sound') {
      const number = sounds.indexOf(stream);
      if (number < wavs.length) add('a', `${number + 1}:a`, stream);
      if (number === sounds.length - 1) for (let i = sounds.length; i < wavs.length; i++) add('a', `${i + 1}:a`, null);
    }
  }
  return layout;
}

/** When a sound stream begins, and what of it is left to its coder. */
function soundTime(
  { streams, cut, soundStartSeconds, container }: MuxOrder,
  { coding }: MuxedSound,
  index: number,
): string[] {
  const sounds = streams.filter(({ kind }) => kind === 'sound');
  const old = sounds[Math.min(index, sounds.length - 1)];
  if (cut !== null || !old)
    return Math.abs(soundStartSeconds) < 0.001 ? [] : ['-itsoffset', soundStartSeconds.toFixed(6)];
  // Where players do not skip what a coder puts before the first sample, it was decoded with the rest: the new coder's own takes its place.
  const isDoubled = coding.delaySamples > 0 && !old.skipsDelay && !old.codec.startsWith('pcm_') && old.sampleRate > 0;
  const ahead = isDoubled ? coding.delaySamples / old.sampleRate : 0;
  // With times kept what is passed over counts.
  const at =
    old.heardFromSeconds +
    (coding.encoder === 'libopus' && isMatroska(container) ? coding.delaySamples / old.sampleRate : 0);
  // What a film's own table of edits cuts off at its end was decoded too.
  const lasts = coding.kbits !== null && old.durationSeconds !== null && old.skipsDelay ? old.durationSeconds : null;
  return [
    ...(ahead > 0 ? ['-ss', ahead.toFixed(6)] : []),
    ...(lasts === null ? [] : ['-t', lasts.toFixed(6)]),
    ...(Math.abs(at) < 1e-6 ? [] : ['-itsoffset', at.toFixed(6)]),
  ];
}

/** FFmpeg counts what Opus has before its first sample twice there. */
function isMatroska(container: string): boolean {
  return container === 'mkv' || container === 'webm';
}

function isMovie({ container }: MuxOrder): boolean {
  return container === 'mov' || container === 'mp4';
}

function hasCover({ streams }: MuxOrder): boolean {
  return streams.some(({ kind }) => kind === 'cover');
}

/** Said of the picture alone: a cover has no frames to count. */
function timecodeWords(order: MuxOrder): string[] {
  const { cut, timecode } = order;
  const said = cut ? cut.timecode : hasCover(order) ? timecode : null;
  if (said === null) return [];
  if (!hasCover(order)) return ['-timecode', said, '-metadata:s:v', `timecode=${said}`];
  return ['-metadata', 'timecode=', '-metadata:s:v', 'timecode=', '-metadata:s:v:0', `timecode=${said}`];
}

function codingWords({ encoder, kbits, sampleType }: SoundCoding, stream: number): string[] {
  return [
    ...[`-c:a:${stream}`, encoder],
    ...(kbits === null ? [] : [`-b:a:${stream}`, String(1000 * kbits)]),
    ...(sampleType === null ? [] : [`-sample_fmt:a:${stream}`, sampleType]),
  ];
}

/** QuickTime and MP4 show the name of a stream's handler where others show its title. */
function streamTags({ name, language }: MuxedSound, stream: number, hasHandlers: boolean): string[] {
  const said = {
    ...(name && { title: name, ...(hasHandlers && { handler_name: name }) }),
    ...(language && { language }),
  };
  return Object.entries(said).flatMap(([tag, text]) => [`-metadata:s:a:${stream}`, `${tag}=${text}`]);
}

/** What MXF has no field for stands in its list of comments. */
function asMxfComments(tags: Record<string, string>): Record<string, string> {
  return Object.fromEntries(Object.entries(tags).map(([name, text]) => [`comment_${name}`, text]));
}
