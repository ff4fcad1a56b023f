import { bucketFrames, outlineShape, VALUES_PER_LANE } from '@pocket-twin/core/outline/outline.ts';
import { fetchOutline, fetchSamples } from '../state/samples.ts';
import { framesIn, type FrameSpan } from '@pocket-twin/core/time/spans.ts';

/** One drawn column of a lane: extremes and RMS over its frames. */
export interface ColumnData {
  min: Float32Array;
  max: Float32Array;
  rms: Float32Array;
}

export interface ClipShape {
  clipId: string;
  frames: number;
  channels: number;
  lanes: number;
}

const TILE_BUCKETS = 4096;
const TILE_FRAMES = 65536;
const MOST_TILES = 200;

/**
 * What a ribbon is drawn from: tiles of the outline, or of samples where the zoom is deeper than
 * the finest outline. Tiles are fetched when first needed; until they are here a column is empty.
 */
export class ColumnSource {
  private readonly tiles = new Map<string, Float32Array | 'coming'>();

  /** @param onTile called when something new can be drawn */
  constructor(
    private readonly clip: ClipShape,
    private readonly onTile: () => void,
  ) {}

  /** @returns for each lane, `count` columns over the view; NaN where nothing has come yet */
  columns(view: FrameSpan, count: number): ColumnData[] {
    const framesPerColumn = framesIn(view) / count;
    const lanes = Array.from({ length: this.clip.lanes }, () => emptyColumns(count));
    const level = this.levelFor(framesPerColumn);
    for (let i = 0; i < count; i++) {
      const from = view.startFrame + i * framesPerColumn;
      if (level < 0)
        this.fromSamples(
          lanes,
          i,
          Math.floor(from),
          Math.max(Math.floor(from) + 1, Math.floor(from + framesPerColumn)),
        );
      else this.fromBuckets(lanes, i, level, from, from + framesPerColumn);
    }
    return lanes;
  }

  /** Single samples of a view, for the deepest zooms. NaN where they have not come yet. */
  samples(firstFrame: number, count: number): Float32Array[] {
    const out = Array.from({ length: this.clip.channels }, () => new Float32Array(count).fill(NaN));
    for (let i = 0; i < count; i++) {
      const frame = firstFrame + i;
      const tile = this.sampleTile(Math.floor(frame / TILE_FRAMES));
      if (!tile) continue;
      const perChannel = tile.length / this.clip.channels;
      for (let c = 0; c < this.clip.channels; c++) out[c][i] = tile[c * perChannel + (frame % TILE_FRAMES)] ?? NaN;
    }
    return out;
  }

  /** The coarsest level whose buckets still fit into a column; -1 where only samples are fine enough. */
  private levelFor(framesPerColumn: number): number {
    const { bucketsPerLevel } = outlineShape(this.clip.frames, this.clip.channels);
    let level = -1;
    while (level + 1 < bucketsPerLevel.length && bucketFrames(level + 1) <= framesPerColumn) level++;
    return level;
  }

  private fromBuckets(lanes: ColumnData[], column: number, level: number, from: number, to: number): void {
    const size = bucketFrames(level);
    const first = Math.floor(from / size);
    const last = Math.max(first, Math.min(Math.ceil(this.clip.frames / size) - 1, Math.ceil(to / size) - 1));
    for (let bucket = first; bucket <= last; bucket++) {
      const tile = this.tile(`o${level}:${Math.floor(bucket / TILE_BUCKETS)}`, () => {
        const start = Math.floor(bucket / TILE_BUCKETS) * TILE_BUCKETS;
        return fetchOutline(this.clip.clipId, level, start, start + TILE_BUCKETS);
      });
      if (!tile) continue;
      lanes.forEach((lane, l) => {
        const at = ((bucket % TILE_BUCKETS) * this.clip.lanes + l) * VALUES_PER_LANE;
        take(lane, column, tile[at], tile[at + 1], tile[at + 2]);
      });
    }
  }

  private fromSamples(lanes: ColumnData[], column: number, from: number, to: number): void {
    const { channels } = this.clip;
    for (let frame = from; frame < Math.min(to, this.clip.frames); frame++) {
      const tile = this.sampleTile(Math.floor(frame / TILE_FRAMES));
      if (!tile) continue;
      const perChannel = tile.length / channels;
      const at = frame % TILE_FRAMES;
      lanes.forEach((lane, l) => {
        const value =
          l < channels
            ? tile[l * perChannel + at]
            : tile[2 * (l - channels) * perChannel + at] - tile[(2 * (l - channels) + 1) * perChannel + at];
        take(lane, column, value, value, Math.abs(value));
      });
    }
  }

  private sampleTile(index: number): Float32Array | null {
    return this.tile(`s${index}`, async () => {
      const channels = await fetchSamples(this.clip.clipId, index * TILE_FRAMES, TILE_FRAMES, this.clip.channels);
      const joined = new Float32Array(channels.length * channels[0].length);
      channels.forEach((samples, c) => joined.set(samples, c * samples.length));
      return joined;
    });
  }

  private tile(key: string, fetchIt: () => Promise<Float32Array>): Float32Array | null {
    const held = this.tiles.get(key);
    if (held) return held === 'coming' ? null : held;
    this.tiles.set(key, 'coming');
    fetchIt().then(
      (values) => {
        this.tiles.set(key, values);
        if (this.tiles.size > MOST_TILES) this.tiles.delete(this.tiles.keys().next().value!);
        this.onTile();
      },
      () => this.tiles.delete(key),
    );
    return null;
  }
}

function emptyColumns(count: number): ColumnData {
  const empty = (): Float32Array => new Float32Array(count).fill(NaN);
  return { min: empty(), max: empty(), rms: empty() };
}

function take(lane: ColumnData, column: number, min: number, max: number, rms: number): void {
  if (Number.isNaN(lane.min[column])) {
    lane.min[column] = min;
    lane.max[column] = max;
    lane.rms[column] = rms;
    return;
  }
  lane.min[column] = Math.min(lane.min[column], min);
  lane.max[column] = Math.max(lane.max[column], max);
  lane.rms[column] = Math.max(lane.rms[column], rms);
}
