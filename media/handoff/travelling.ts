import { createHash } from 'node:crypto';
import type { FileHandle } from 'node:fs/promises';
import { basename } from 'node:path';
import { childrenOf } from '@pocket-twin/core/isobmff/boxes.ts';
import { findMovieBox } from '@pocket-twin/core/isobmff/movieBox.ts';
import { readWav } from '@pocket-twin/core/riff/readWav.ts';
import { CONFINED, FFMPEG, FFPROBE, fileWord, QUIET, reading } from '../ffmpeg/coded.ts';
import { Run } from '../ffmpeg/run.ts';
import { FileSource } from '../read/fileSource.ts';
import { inputOf } from '../read/inputOf.ts';

/** What a file holds beside the words of its sound and the packets of its picture, each thing by its name. */
export type Travelling = Record<string, string | number>;

type Described = Record<string, unknown> & {
  index?: number;
  codec_type?: string;
  tags?: Record<string, string>;
  disposition?: Record<string, number>;
  side_data_list?: Record<string, unknown>[];
};
interface Told {
  streams?: Described[];
  chapters?: { start_time?: string; end_time?: string; tags?: Record<string, string> }[];
  format?: Described;
}

/** Tags that whoever writes a file makes anew, or that are told elsewhere. */
const MADE_ANEW =
  /^(encoder|encoded_date|tagged_date|major_brand|minor_version|compatible_brands|duration|_statistics.*|bps|number_of_(frames|bytes)|vendor_id|coding_history|comment_coding_history|timecode|time_reference|source_id|operational_pattern_ul|modification_date|product_uid|uid|generation_uid|material_package_umid|file_package_umid|track_name|writing_application|(company|product|toolkit|application)_(name|version|platform))(-eng)?$/;
const PICTURE_FIELDS = [
  ...['codec_name', 'profile', 'width', 'height', 'sample_aspect_ratio', 'display_aspect_ratio', 'pix_fmt', 'level'],
  ...['color_range', 'color_space', 'color_transfer', 'color_primaries', 'field_order', 'r_frame_rate'],
];
const LARGEST_TEXT = 32 << 20;
const LARGEST_CHUNK = 16 << 20;
const MOST_TEXT = 200;

/**
 * Everything of a file that an edit, a player or an archive may ask for, as FFmpeg's own tool and the file's own tables tell it.
 * @param otherContainer what it is held against: of two WAVs their chunks tell everything, and many are handed off at once
 */
export async function travelling(path: string, otherContainer: string): Promise<Travelling> {
  const input = await inputOf(path);
  const own = await ownParts(path, input.demuxer);
  if (input.demuxer === 'wav' && otherContainer === 'wav') return own;
  const told = await probe(path, input.demuxer);
  return { ...probedParts(told), ...(await contents(path, input.demuxer, told.streams ?? [])), ...own };
}

async function probe(path: string, demuxer: string): Promise<Told> {
  const run = new Run(
    FFPROBE,
    [
      ...[...QUIET, ...CONFINED, '-f', demuxer, '-of', 'json', '-show_streams', '-show_format', '-show_chapters'],
      ...['-show_data_hash', 'sha256', fileWord(path)],
    ],
    basename(path),
  );
  const answer = await run.text(LARGEST_TEXT);
  try {
    return JSON.parse(answer || '{}') as Told;
  } catch {
    return {};
  }
}

function probedParts({ streams = [], chapters = [], format = {} }: Told): Travelling {
  const parts: Travelling = {};
  // All times are against the picture, or against the sound where there is none.
  const first =
    streams.find((stream) => kindOf(stream) === 'picture') ?? streams.find(({ codec_type: type }) => type === 'audio');
  const origin = Number(first?.start_time) || 0;
  if (origin !== 0) parts['clock begins'] = seconds(origin);
  const counts = new Map<string, number>();
  parts['stream order'] = streams.map(kindOf).join(', ');
  for (const stream of streams) {
    const kind = kindOf(stream);
    const number = (counts.get(kind) ?? 0) + 1;
    counts.set(kind, number);
    const name = `${kind} ${number}`;
    if (kind === 'picture') {
      for (const field of PICTURE_FIELDS)
        if (stream[field] !== undefined && stream[field] !== 'unknown')
          parts[`${name}: ${field.replace(/_/g, ' ')}`] = String(stream[field]);
    } else if (kind !== 'sound') parts[`${name}: codec`] = String(stream.codec_name ?? 'unknown');
    if (kind === 'cover') parts[`${name}: size`] = `${String(stream.width)} × ${String(stream.height)}`;
    if (kind === 'attachment' && stream.extradata_hash) parts[`${name}: content`] = String(stream.extradata_hash);
    if (stream !== first && (kind === 'picture' || kind === 'sound' || kind === 'subtitles'))
      parts[`${name}: start`] = seconds(Number(stream.start_time) - origin);
    if (stream.duration !== undefined && (kind === 'picture' || kind === 'sound'))
      parts[`${name}: duration`] = seconds(Number(stream.duration));
    if (kind === 'sound') {
      if (stream.channel_layout) parts[`${name}: channel layout`] = String(stream.channel_layout);
    }
    const flags = Object.entries(stream.disposition ?? {}).flatMap(([flag, on]) => (on === 1 ? [flag] : []));
    if (flags.length > 0) parts[`${name}: disposition`] = flags.join(', ');
    for (const { side_data_type: type, rotation } of stream.side_data_list ?? [])
      if (rotation !== undefined) parts[`${name}: ${String(type)}`] = Number(rotation);
    // What carries a timecode is made by whoever writes the file.
    // An Ogg file says of its one stream what others say of the file.
    const isOfFile = streams.length === 1 && Object.keys(format.tags ?? {}).length === 0;
    if (kind !== 'data') Object.assign(parts, tagsOf(isOfFile ? 'tag ' : `${name}: `, stream.tags));
  }
  if (chapters.length > 0) {
    parts.chapters = chapters.length;
    for (const [i, { start_time: start, end_time: end, tags }] of chapters.entries())
      parts[`chapter ${i + 1}`] =
        `${seconds(Number(start) - origin)} to ${seconds(Number(end) - origin)} ${tags?.title ?? ''}`.trim();
  }
  return { ...parts, ...tagsOf('tag ', format.tags) };
}

/** What covers and subtitles hold, packet by packet. */
async function contents(path: string, demuxer: string, streams: readonly Described[]): Promise<Travelling> {
  const counts = new Map<string, number>();
  const wanted = streams.flatMap((stream) => {
    const kind = kindOf(stream);
    if (kind !== 'cover' && kind !== 'subtitles') return [];
    counts.set(kind, (counts.get(kind) ?? 0) + 1);
    return [{ index: stream.index ?? 0, name: `${kind} ${counts.get(kind)}` }];
  });
  if (wanted.length === 0) return {};
  const maps = wanted.flatMap(({ index }) => ['-map', `0:${index}`]);
  const run = new Run(
    FFMPEG,
    [...reading({ path, demuxer }), ...maps, '-c', 'copy', '-f', 'streamhash', '-hash', 'sha256', 'pipe:1'],
    basename(path),
  );
  const hashes = ((await run.text(LARGEST_TEXT)) ?? '').split('\n');
  return Object.fromEntries(
    wanted.map(({ name }, i) => [`${name}: content`, /=([0-9a-f]{16})/.exec(hashes[i] ?? '')?.[1] ?? 'unknown']),
  );
}

function kindOf({ codec_type: type, disposition }: Described): string {
  if (type === 'video') return disposition?.attached_pic === 1 ? 'cover' : 'picture';
  return type === 'audio' ? 'sound' : type === 'subtitle' ? 'subtitles' : (type ?? 'data');
}

function tagsOf(before: string, tags: Record<string, string> = {}): Travelling {
  const parts: Travelling = {};
  for (const [key, value] of Object.entries(tags)) {
    const name = key.toLowerCase();
    if (!MADE_ANEW.test(name)) parts[`${before}${name}`] = value.slice(0, MOST_TEXT);
  }
  return parts;
}

/** To a millisecond: clocks of containers are not finer. */
function seconds(value: number): string {
  return Number.isFinite(value) ? (Math.round(value * 1000) / 1000 || 0).toFixed(3) : 'unknown';
}

/** What only the file's own tables tell: its chunks, blocks or boxes. */
async function ownParts(path: string, demuxer: string | null): Promise<Travelling> {
  const source = await FileSource.open(path);
  try {
    if (demuxer === null || demuxer === 'wav') return await waveChunks(source, basename(path));
    if (demuxer === 'aiff') return await aiffChunks(source.handle, source.size);
    if (demuxer === 'flac') return await flacBlocks(source.handle);
    if (demuxer === 'mov') return await movieBoxes(source);
    return {};
  } finally {
    await source.close();
  }
}

/** The sound itself, and what its place and length is said by. */
const OF_THE_SOUND = new Set(['fmt ', 'data', 'fact', 'ds64', 'COMM', 'SSND', 'FVER', 'JUNK', 'PAD ', 'FLLR', 'junk']);

async function waveChunks(source: FileSource, name: string): Promise<Travelling> {
  const { chunks } = await readWav(source, name);
  const parts: Travelling = {};
  for (const { id, offset, bytes } of chunks) {
    if (OF_THE_SOUND.has(id)) continue;
    parts[`chunk ${id.trim()}`] = await digestOf(source.handle, offset, bytes);
  }
  return parts;
}

async function aiffChunks(file: FileHandle, size: number): Promise<Travelling> {
  const parts: Travelling = {};
  for (let at = 12; at + 8 <= size;) {
    const head = await bytesAt(file, at, 8);
    if (head.length < 8) break;
    const id = head.toString('latin1', 0, 4);
    const bytes = head.readUInt32BE(4);
    if (!OF_THE_SOUND.has(id)) parts[`chunk ${id.trim()}`] = await digestOf(file, at + 8, bytes);
    at += 8 + bytes + (bytes % 2);
  }
  return parts;
}

const FLAC_BLOCKS = ['stream', 'padding', 'application', 'seek table', 'comments', 'cue sheet', 'cover'];

/** RFC 9639, 8. */
async function flacBlocks(file: FileHandle): Promise<Travelling> {
  const parts: Travelling = {};
  for (let at = 4; ;) {
    const head = await bytesAt(file, at, 4);
    if (head.length < 4) return parts;
    const kind = head[0] & 0x7f;
    const bytes = head.readUIntBE(1, 3);
    if (kind >= 2 && kind !== 3 && kind !== 4)
      parts[`block ${FLAC_BLOCKS[kind] ?? kind}`] = await digestOf(file, at + 4, bytes);
    if (head[0] & 0x80) return parts;
    at += 4 + bytes;
  }
}

/** What a movie holds beside its tracks, by the names of its boxes. */
async function movieBoxes(source: FileSource): Promise<Travelling> {
  const movie = await findMovieBox(source);
  if (!movie) return {};
  const { body } = movie;
  const view = new DataView(body.buffer, body.byteOffset, body.byteLength);
  const whole = { type: 'moov', start: 0, end: body.length };
  const names = childrenOf(view, whole).flatMap((box) => {
    if (box.type === 'udta') return childrenOf(view, box).map(({ type }) => `udta/${type}`);
    return ['mvhd', 'trak', 'iods', 'free', 'skip', 'meta'].includes(box.type) ? [] : [box.type];
  });
  const parts: Travelling = {};
  for (const name of names) if (!/^udta\/(meta|\u00a9|name|free)/.test(name)) parts[`box ${name}`] = 'there';
  return parts;
}

async function digestOf(file: FileHandle, offset: number, bytes: number): Promise<string> {
  const body = await bytesAt(file, offset, Math.min(bytes, LARGEST_CHUNK));
  return `${bytes} bytes, ${createHash('sha256').update(body).digest('hex').slice(0, 12)}`;
}

async function bytesAt(file: FileHandle, offset: number, bytes: number): Promise<Buffer> {
  const { buffer, bytesRead } = await file.read(Buffer.alloc(bytes), 0, bytes, offset);
  return buffer.subarray(0, bytesRead);
}
