import { basename } from 'node:path';
import { CONFINED, FFPROBE, fileWord, QUIET, type CodedInput } from '../ffmpeg/coded.ts';
import { Run } from '../ffmpeg/run.ts';

/** A stream of a film, in its order. */
export interface FilmStream {
  index: number;
  kind: 'picture' | 'cover' | 'sound' | 'subtitles' | 'attachment' | 'data';
  codec: string;
  /** What it is for: "default", "original". */
  flags: string[];
  sampleRate: number;
  /** When its first sample that is heard comes, on the film's own clock; of sound alone. */
  heardFromSeconds: number;
  /** Whether what its coder put before the first sample is left out when it is decoded. */
  skipsDelay: boolean;
  durationSeconds: number | null;
}

interface Described {
  index?: number;
  codec_type?: string;
  codec_name?: string;
  sample_rate?: string;
  start_time?: string;
  duration?: string;
  tags?: Record<string, string>;
  disposition?: Record<string, number>;
}
interface Packet {
  stream_index?: number;
  pts_time?: string;
  side_data_list?: { side_data_type?: string; skip_samples?: number }[];
}

const KINDS: Record<string, FilmStream['kind']> = {
  audio: 'sound',
  subtitle: 'subtitles',
  attachment: 'attachment',
};
/** What Debian's FFmpeg takes for the delay of coders, in samples. */
const OF_THE_TRACK: Record<string, number> = { opus: 312 };
// The first packets of every stream are among the first of the file.
const LOOKED_AT_SECONDS = 10;
const MOST_BYTES = 64 << 20;

/** The streams of a film, and when its sound begins. */
export async function filmStreams(film: CodedInput): Promise<FilmStream[]> {
  const run = new Run(
    FFPROBE,
    [
      ...[...QUIET, ...CONFINED, '-f', film.demuxer, '-of', 'json', '-show_streams', '-show_packets'],
      ...[
        '-show_entries',
        'packet=stream_index,pts_time:packet_side_data',
        '-read_intervals',
        `%+${LOOKED_AT_SECONDS}`,
      ],
      fileWord(film.path),
    ],
    basename(film.path),
  );
  const answer = await run.text(MOST_BYTES);
  const isMatroska = film.demuxer === 'matroska';
  const { streams = [], packets = [] } = parsed(answer ?? '');
  const first = new Map<number, Packet>();
  for (const packet of packets)
    if (packet.stream_index !== undefined && !first.has(packet.stream_index)) first.set(packet.stream_index, packet);
  return streams.map((stream, i) => streamFrom(stream, i, first.get(stream.index ?? i), isMatroska));
}

function streamFrom(stream: Described, place: number, packet: Packet | undefined, isMatroska: boolean): FilmStream {
  const { index = place, codec_type: type = 'data', codec_name: codec = 'unknown', disposition = {} } = stream;
  const isCover = disposition.attached_pic === 1;
  // Matroska says it of the track and not of the first packet.
  const byTrack = isMatroska ? (OF_THE_TRACK[codec] ?? 0) : 0;
  const said = packet?.side_data_list?.find(({ side_data_type: kind }) => kind === 'Skip Samples')?.skip_samples ?? 0;
  const skipped = byTrack || said;
  const sampleRate = Number(stream.sample_rate ?? 0);
  const start = Number(packet?.pts_time ?? stream.start_time ?? 0) || 0;
  const duration = Number(stream.duration);
  return {
    index,
    kind: type === 'video' ? (isCover ? 'cover' : 'picture') : (KINDS[type] ?? 'data'),
    codec,
    flags: Object.entries(disposition).flatMap(([flag, on]) => (on === 1 ? [flag] : [])),
    sampleRate,
    heardFromSeconds: start + (sampleRate > 0 ? skipped / sampleRate : 0),
    skipsDelay: skipped > 0,
    durationSeconds: duration > 0 ? duration : null,
  };
}

function parsed(answer: string): { streams?: Described[]; packets?: Packet[] } {
  try {
    return JSON.parse(answer || '{}') as ReturnType<typeof parsed>;
  } catch {
    return {};
  }
}
