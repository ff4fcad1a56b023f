import { laneCount, outlineShape, VALUES_PER_LANE } from '@pocket-twin/core/outline/outline.ts';
import type { Sketch } from '@pocket-twin/core/schema/sketch.ts';
import { dbFromAmplitude } from '@pocket-twin/core/signal/decibels.ts';
import { readOutline } from './outlineFiles.ts';

const COLUMNS = 96;
const QUIETEST_DBFS = -90;

/** The ribbon of a row, from the outline's coarsest level. */
export async function readSketch(outlineFolder: string, frames: number, channels: number): Promise<Sketch> {
  const { bucketsPerLevel } = outlineShape(frames, channels);
  const level = bucketsPerLevel.length - 1;
  const lanes = laneCount(channels);
  const buckets = bucketsPerLevel[level];
  const bytes = await readOutline(outlineFolder, level, lanes, 0, buckets);
  const values = new Float32Array(bytes.buffer, bytes.byteOffset, bytes.length / 4);
  const peak = (bucket: number, lane: number): number => {
    const at = (bucket * lanes + lane) * VALUES_PER_LANE;
    return Math.max(-values[at], values[at + 1]);
  };
  const columns = Math.min(COLUMNS, buckets);
  return Array.from({ length: channels }, (_, lane) => ({
    channel: lane + 1,
    peaksDbfs: Array.from({ length: columns }, (_, column) => {
      let largest = 0;
      const end = Math.max(Math.floor(((column + 1) * buckets) / columns), 1);
      for (let b = Math.floor((column * buckets) / columns); b < end; b++) largest = Math.max(largest, peak(b, lane));
      const db = Math.round(dbFromAmplitude(largest));
      return db < QUIETEST_DBFS ? null : db;
    }),
  }));
}

/** The ribbon of a file whose channels are those of a clip, moved. @param inputs the clip's channels, from 0 */
export function movedSketch(sketch: Sketch | null | undefined, inputs: readonly number[]): Sketch | null {
  return sketch?.length ? inputs.map((input, c) => ({ ...sketch[input], channel: c + 1 })) : null;
}
