import { basename } from 'node:path';
import { CONFINED, FFPROBE, fileWord, QUIET, type CodedInput } from './coded.ts';
import { Run } from './run.ts';

const LARGEST_ANSWER_BYTES = 64 * 1024 ** 2;

export interface ProbedStream {
  codec: string;
  sampleRate: number;
  channels: number;
  layout: string | null;
  /** FFmpeg's name of the decoder's sample type: s16, s32p, fltp, ... */
  sampleType: string;
  /** Bits the codec says it carries; 0 where it has no depth. */
  bits: number;
  name: string | null;
  language: string | null;
  /** When its sound begins on the file's own clock. */
  startSeconds: number;
}

/** What FFmpeg sees in a file. */
export interface Probed {
  audio: ProbedStream[];
  encrypted: boolean;
  hasPicture: boolean;
  /** Pictures a second as "25/1"; null where there is no picture. */
  pictureRate: string | null;
  /** How many, as the container counts them or else by their rate; null where that is not known. */
  pictureFrames: number | null;
  /** Where the file's clock begins. */
  startSeconds: number;
  /** What the container says; null where it does not. */
  durationSeconds: number | null;
  /** Of the container and its streams, lower case; the container's own win. */
  tags: Record<string, string>;
}

type Described = Record<string, unknown> & { tags?: Record<string, string>; disposition?: { attached_pic?: number } };

interface SeenPacket {
  side_data_list?: { side_data_type?: string }[];
}

const PACKETS_SEEN = 8;

export async function probeFile(input: CodedInput): Promise<Probed> {
  // A container may call an encrypted stream by the codec inside; then only its packets say so. Held to the list of decoders, the probe would not tell
  // of a file at all that has one stream of another kind.
  const run = new Run(
    FFPROBE,
    [
      ...QUIET,
      ...CONFINED,
      '-f',
      input.demuxer,
      '-of',
      'json',
      '-show_streams',
      '-show_format',
      '-show_packets',
      '-read_intervals',
      `%+#${PACKETS_SEEN}`,
      fileWord(input.path),
    ],
    basename(input.path),
  );
  const answer = await run.text(LARGEST_ANSWER_BYTES);
  return probedFrom(answer ?? '');
}

function probedFrom(answer: string): Probed {
  const { streams = [], format = {}, packets = [] } = parsed(answer);
  const encrypted = packets.some(({ side_data_list: extras = [] }) =>
    extras.some(({ side_data_type: type }) => type === 'Encryption info'),
  );
  const picture = streams.find((stream) => stream.codec_type === 'video' && stream.disposition?.attached_pic !== 1);
  const tags: Record<string, string> = {};
  for (const { tags: found = {} } of [...streams, format])
    for (const [key, value] of Object.entries(found)) tags[key.toLowerCase()] = value;
  const durationSeconds = Number(format.duration);
  return {
    audio: streams.filter((stream) => stream.codec_type === 'audio').map(probedStream),
    encrypted: encrypted || streams.some((stream) => ENCRYPTED_TAGS.includes(String(stream.codec_tag_string))),
    hasPicture: picture !== undefined,
    pictureRate: picture ? String(picture.r_frame_rate) : null,
    pictureFrames: picture ? framesOf(picture, durationSeconds) : null,
    startSeconds: Number(format.start_time) || 0,
    durationSeconds: durationSeconds > 0 ? durationSeconds : null,
    tags,
  };
}

function framesOf(picture: Described, durationSeconds: number): number | null {
  const counted = Number(picture.nb_frames);
  if (counted > 0) return counted;
  const [numerator, denominator] = String(picture.r_frame_rate).split('/').map(Number);
  // The file as a whole lasts as long as its longest stream, which may be the sound.
  const seconds = Number(picture.duration) || lengthByTag(picture) || durationSeconds;
  return seconds > 0 && numerator > 0 && denominator > 0 ? Math.round((seconds * numerator) / denominator) : null;
}

/** Matroska says when a stream ends on the file's clock. */
function lengthByTag({ tags, start_time: start }: Described): number {
  return Math.max(0, secondsOf(tags?.DURATION) - (Number(start) || 0));
}

/** Of "00:00:05.040000000", as Matroska has it; 0 where it is not that. */
function secondsOf(clock: string | undefined): number {
  const match = /^(\d+):(\d\d):(\d\d(?:\.\d+)?)$/.exec(clock ?? '');
  return match ? Number(match[1]) * 3600 + Number(match[2]) * 60 + Number(match[3]) : 0;
}

/** A file that is too damaged to be told of is one without streams. */
function parsed(answer: string): { streams?: Described[]; format?: Described; packets?: SeenPacket[] } {
  try {
    return JSON.parse(answer || '{}') as ReturnType<typeof parsed>;
  } catch {
    return {};
  }
}

// A language tells two tracks apart only where it is one.
const NO_LANGUAGE = 'und';
// Names that muxers write by themselves.
const EMPTY_NAMES = /^(sound ?handler|.*media handler|core media audio)$/i;
const ENCRYPTED_TAGS = ['enca', 'drms'];

function probedStream({ tags = {}, ...stream }: Described): ProbedStream {
  const language = tags.language === NO_LANGUAGE ? undefined : tags.language;
  const name = tags.title ?? tags.handler_name?.trim();
  return {
    codec: String(stream.codec_name ?? 'unknown'),
    sampleRate: Number(stream.sample_rate ?? 0),
    channels: Number(stream.channels ?? 0),
    layout: stream.channel_layout ? String(stream.channel_layout) : null,
    sampleType: String(stream.sample_fmt),
    startSeconds: Number(stream.start_time) || 0,
    bits: Number(stream.bits_per_raw_sample ?? 0) || Number(stream.bits_per_sample ?? 0),
    name: name && !EMPTY_NAMES.test(name) ? name.slice(0, 200) : (language ?? null),
    language: language ?? null,
  };
}
