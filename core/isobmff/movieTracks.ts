import { ascii, type ByteSource } from '../riff/byteSource.ts';

/** Media that lies together in the file. */
export interface MediaChunk {
  offset: number;
  samples: number;
  bytes: number;
}

export interface MovieTrack {
  /** ISO/IEC 14496-12, 8.4.3: `soun`, `vide`, `tmcd`, ... */
  handler: string;
  /** In the order of its time. */
  chunks: MediaChunk[];
}

interface Box {
  type: string;
  /** Of what it holds. */
  start: number;
  end: number;
}

const HEAD_BYTES = 16;
const SIZE_FOLLOWS = 1;
const TO_THE_END = 0;
const MOST_MOVIE_BYTES = 256 * 1024 ** 2;
// Ten hours of the shortest pieces that cameras write.
const MOST_CHUNKS = 4_000_000;
const MOST_BOXES = 10_000;

/**
 * Where the media of each track lies in a QuickTime or MP4 file (ISO/IEC 14496-12, 8.6 and 8.7; QuickTime File Format, "Sample Atoms").
 * @returns null where it has no such tables, or tables that contradict each other
 */
export async function movieTracks(source: ByteSource): Promise<MovieTrack[] | null> {
  const movie = await movieBox(source);
  if (movie === null) return null;
  const view = new DataView(movie.buffer, movie.byteOffset, movie.byteLength);
  const whole = { type: 'moov', start: 0, end: movie.byteLength };
  const tracks: MovieTrack[] = [];
  for (const track of childrenOf(view, whole).filter(({ type }) => type === 'trak')) {
    const media = childOf(view, track, 'mdia');
    const handler = media && childOf(view, media, 'hdlr');
    const information = media && childOf(view, media, 'minf');
    const table = information && childOf(view, information, 'stbl');
    if (!handler || !table || handler.end - handler.start < 12) return null;
    const chunks = chunksOf(view, table);
    if (chunks === null) return null;
    tracks.push({ handler: ascii(movie, handler.start + 8, 4), chunks });
  }
  return tracks;
}

/** What `moov` holds. */
async function movieBox(source: ByteSource): Promise<Uint8Array | null> {
  let at = 0;
  for (let n = 0; n < MOST_BOXES && at + 8 <= source.size; n++) {
    const head = await source.read(at, HEAD_BYTES);
    const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
    const short = view.getUint32(0);
    if (short === SIZE_FOLLOWS && head.length < HEAD_BYTES) return null;
    const bytes =
      short === TO_THE_END
        ? source.size - at
        : short === SIZE_FOLLOWS
          ? view.getUint32(8) * 2 ** 32 + view.getUint32(12)
          : short;
    const headBytes = short === SIZE_FOLLOWS ? HEAD_BYTES : 8;
    if (bytes < headBytes) return null;
    if (ascii(head, 4, 4) === 'moov') {
      if (bytes > MOST_MOVIE_BYTES || at + bytes > source.size) return null;
      return source.read(at + headBytes, bytes - headBytes);
    }
    at += bytes;
  }
  return null;
}

function childrenOf(view: DataView, { start, end }: Box): Box[] {
  const boxes: Box[] = [];
  for (let at = start; at + 8 <= end;) {
    const bytes = view.getUint32(at);
    if (bytes < 8 || at + bytes > end) break;
    const type = String.fromCharCode(...Array.from({ length: 4 }, (_, i) => view.getUint8(at + 4 + i)));
    boxes.push({ type, start: at + 8, end: at + bytes });
    at += bytes;
  }
  return boxes;
}

function childOf(view: DataView, box: Box, type: string): Box | undefined {
  return childrenOf(view, box).find((child) => child.type === type);
}

/** From `stsc` (samples a chunk), `stsz` (bytes a sample) and `stco` or `co64` (where each chunk lies). */
function chunksOf(view: DataView, table: Box): MediaChunk[] | null {
  const runs = childOf(view, table, 'stsc');
  const sizes = childOf(view, table, 'stsz');
  const wide = childOf(view, table, 'co64');
  const offsets = wide ?? childOf(view, table, 'stco');
  if (!runs || !sizes || !offsets || sizes.end - sizes.start < 12) return null;
  const [offsetCount, runCount] = [countOf(view, offsets, wide ? 8 : 4), countOf(view, runs, 12)];
  const oneSize = view.getUint32(sizes.start + 4);
  const sampleCount = view.getUint32(sizes.start + 8);
  if (offsetCount === null || runCount === null || offsetCount > MOST_CHUNKS) return null;
  if (oneSize === 0 && sizes.start + 12 + 4 * sampleCount > sizes.end) return null;
  const chunks: MediaChunk[] = [];
  let sample = 0;
  for (let run = 0; run < runCount; run++) {
    const from = runs.start + 8 + 12 * run;
    const first = view.getUint32(from) - 1;
    const beyond = run + 1 < runCount ? view.getUint32(from + 12) - 1 : offsetCount;
    const samples = view.getUint32(from + 4);
    if (first !== chunks.length || beyond > offsetCount) return null;
    for (let chunk = first; chunk < beyond; chunk++) {
      const at = offsets.start + 8 + (wide ? 8 : 4) * chunk;
      const offset = wide ? view.getUint32(at) * 2 ** 32 + view.getUint32(at + 4) : view.getUint32(at);
      if (sample + samples > sampleCount) return null;
      let bytes = oneSize * samples;
      if (oneSize === 0) for (let i = 0; i < samples; i++) bytes += view.getUint32(sizes.start + 12 + 4 * (sample + i));
      chunks.push({ offset, samples, bytes });
      sample += samples;
    }
  }
  return sample === sampleCount ? chunks : null;
}

/** Of a table with a version, a count and entries of one size; null where it holds fewer than it says. */
function countOf(view: DataView, { start, end }: Box, entryBytes: number): number | null {
  if (end - start < 8) return null;
  const count = view.getUint32(start + 4);
  return start + 8 + count * entryBytes <= end ? count : null;
}
