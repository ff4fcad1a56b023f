import { ascii } from '../riff/byteSource.ts';
import { childOf, childrenOf, type Box } from './boxes.ts';

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

// Ten hours of the shortest pieces that cameras write.
const MOST_CHUNKS = 4_000_000;

/**
 * Where the media of each track lies in a QuickTime or MP4 file (ISO/IEC 14496-12, 8.6 and 8.7; QuickTime File Format, "Sample Atoms").
 * @param movie what its `moov` holds
 * @returns null where it has no such tables, or tables that contradict each other
 */
export function movieTracks(movie: Uint8Array): MovieTrack[] | null {
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

/** From `stsc` (samples a chunk), `stsz` (bytes a sample) and `stco` or `co64` (where each chunk lies). */
function chunksOf(view: DataView, table: Box): MediaChunk[] | null {
  const runs = childOf(view, table, 'stsc');
  const sizes = childOf(view, table, 'stsz');
  const wide = childOf(view, table, 'co64');
  const offsets = wide ?? childOf(view, table, 'stco');
  if (!runs || !sizes || !offsets || sizes.end - sizes.start < 12) return null;
  const offsetCount = countOf(view, offsets, wide ? 8 : 4);
  const runCount = countOf(view, runs, 12);
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
