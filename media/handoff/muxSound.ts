import { randomUUID } from 'node:crypto';
import { chmod, chown, mkdir } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import type { SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { FFMPEG, fileWord, reading, taggedAs, type CodedInput } from '../ffmpeg/coded.ts';
import { confinedOwner } from '../ffmpeg/confine.ts';
import { Run } from '../ffmpeg/run.ts';
import { moveWhole } from '../disk/wholeFile.ts';
import { hasIndex, SAME_TIME_SECONDS } from './filmStretch.ts';
import { hashOf, PICTURE_PACKETS } from './pictureHash.ts';

export interface Muxer {
  name: string;
  /** Whether it holds sample words as they are; else what codes them. */
  pcm: boolean;
  coder?: 'aac' | 'libopus';
}

/** By what a container is called here (container.ts). */
const MUXERS: Record<string, Muxer> = {
  mov: { name: 'mov', pcm: true },
  mp4: { name: 'mp4', pcm: false, coder: 'aac' },
  mkv: { name: 'matroska', pcm: true },
  mxf: { name: 'mxf', pcm: true },
  avi: { name: 'avi', pcm: true },
  ts: { name: 'mpegts', pcm: false, coder: 'aac' },
  webm: { name: 'webm', pcm: false, coder: 'libopus' },
};
// Subtitles end there; the picture ends with its last packet, whose time may lie after that of others.
const MARGIN_SECONDS = 0.1;
const MOST_KBITS = 512;
const OWNER_ONLY = 0o700;
const READ_BY_ALL = 0o644;

/** Whether a container's sound can be replaced, and whether its words then stay as they are. */
export function muxerFor(container: string): Muxer | null {
  return MUXERS[container] ?? null;
}

/** A sound stream of the new film. */
export interface MuxedSound {
  /** A WAV of our own. */
  path: string;
  channels: number;
  name: string | null;
  language: string | null;
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
  wavs: MuxedSound[];
  words: SampleFormat;
  /** What is written into its metadata, by name. */
  tags: Record<string, string>;
  /** Where sound must be coded, at so many kbit/s for each channel. */
  codedKbits: number;
  /** How much later than the file the sound of the original begins, in seconds. */
  soundStartSeconds: number;
  /** null copies all of the picture. */
  cut: FilmCut | null;
  /** A folder for what is not whole yet, on the target's disk. */
  scratch: string;
  target: string;
  overwrite: boolean;
}

/**
 * The original with other sound: its picture copied packet by packet, its subtitles, chapters, tags and timecode kept.
 * @returns the hash of the original's picture packets, as they were copied. @throws Refusal where it can't be
 */
export async function muxSound(order: MuxOrder): Promise<string> {
  const { original, wavs, soundStartSeconds, cut, scratch, target } = order;
  const { startSeconds = null, durationSeconds = null, packets = null, timecode = null } = cut ?? {};
  const muxer = muxerFor(order.container);
  if (!muxer)
    throw new Refusal(
      'bad-request',
      `The sound of a ${order.container} file can’t be replaced in place. Choose --format wav.`,
    );
  const folder = join(scratch, `mux-${randomUUID()}`);
  await mkdir(folder, { mode: OWNER_ONLY });
  const owner = confinedOwner();
  if (owner !== null) await chown(folder, owner, owner);
  const made = join(folder, 'made');
  const isMovie = muxer.name === 'mov' || muxer.name === 'mp4';
  const offset = Math.abs(soundStartSeconds) < 0.001 ? [] : ['-itsoffset', soundStartSeconds.toFixed(6)];
  // What can't be looked for is read from its start, with its clock put back.
  const seeks = hasIndex(original);
  // FFmpeg goes back to before what it is asked for, and would copy what lies between. Pictures that are shown before the first need others that are not
  // there. A limit on the number of pictures would end the sound with them.
  const left = [
    ...(startSeconds === null ? [] : [`lt(pts*tb\\,-${SAME_TIME_SECONDS})`]),
    ...(packets === null ? [] : [`gte(n\\,${packets})`]),
  ];
  const shortened = left.length === 0 ? [] : ['-copypriorss:v', '0', '-bsf:v', `noise=drop=${left.join('+')}`];
  const run = new Run(
    FFMPEG,
    [
      ...(seeks && durationSeconds !== null ? ['-t', (durationSeconds + MARGIN_SECONDS).toFixed(6)] : []),
      ...(!seeks && startSeconds !== null ? ['-itsoffset', (-startSeconds).toFixed(6)] : []),
      ...reading(original, (seeks ? startSeconds : null) ?? undefined),
      ...wavs.flatMap(({ path }) => [...offset, '-f', 'wav', '-i', fileWord(path)]),
      ...['-map', '0:v', ...wavs.flatMap((_, i) => ['-map', `${i + 1}:a`]), '-map', '0:s?'],
      ...['-map_metadata', '0', '-map_chapters', '0', '-c', 'copy'],
      ...shortened,
      ...(timecode === null ? [] : ['-timecode', timecode, '-metadata:s:v', `timecode=${timecode}`]),
      ...wavs.flatMap(({ channels }, i) => codecWords(muxer, order, channels, i)),
      ...wavs.flatMap((wav, i) => streamTags(wav, i, isMovie)),
      ...taggedAs(muxer.name === 'mxf' ? asMxfComments(order.tags) : order.tags),
      ...(isMovie ? ['-movflags', '+use_metadata_tags'] : []),
      ...['-f', muxer.name, '-y', fileWord(made)],
      ...shortened,
      ...PICTURE_PACKETS,
    ],
    basename(original.path),
  );
  const picture = await hashOf(run.pieces());
  const complaint = await run.complaint();
  if (complaint !== null)
    throw new Refusal(
      'damaged',
      `The picture of ${basename(original.path)} could not be copied with its new sound: ${complaint.split('\n')[0].slice(0, 160)}.`,
    );
  if (owner !== null) await chown(made, process.getuid!(), process.getgid!());
  await chmod(made, READ_BY_ALL);
  await mkdir(dirname(target), { recursive: true });
  await moveWhole(made, target, order.overwrite);
  return picture;
}

/** What a stream of so many channels is coded at. */
export function kbitsOf(codedKbits: number, channels: number): number {
  return Math.min(MOST_KBITS, codedKbits * channels);
}

function codecWords(
  { coder }: Muxer,
  { words: { kind, bits }, codedKbits }: MuxOrder,
  channels: number,
  stream: number,
): string[] {
  if (coder) return [`-c:a:${stream}`, coder, `-b:a:${stream}`, String(1000 * kbitsOf(codedKbits, channels))];
  return [`-c:a:${stream}`, bits === 8 ? 'pcm_u8' : `pcm_${kind === 'float' ? 'f' : 's'}${bits}le`];
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
