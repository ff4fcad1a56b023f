import { powerFromDb } from '../../signal/decibels.ts';
import type { BlockSpan } from '../../time/spans.ts';
import { NOTHING_POWER, STANDS_OUT_DB } from '../boundaries.ts';
import { noiseFloorPower, percentile } from '../stream/noiseFloor.ts';

// Which moments of a clip are looked at to tell what goes on in it.

// One of each of so many parts.
const PARTS = 8;
/** What is so far below the loudest is a pause between beeps. */
export const SOUNDING_WITHIN_DB = 20;

/** The loudest block of each part of a clip, the loudest first. */
export function loudestOfParts(powers: Float64Array): number[] {
  const loudest = partsOf(powers).map(({ startBlock, endBlock }) => {
    let best = startBlock;
    for (let i = startBlock; i < endBlock; i++) if (powers[i] > powers[best]) best = i;
    return best;
  });
  return loudest.sort((a, b) => powers[b] - powers[a]);
}

/**
 * Of each part of a clip a block that is as soft as what sounds there comes to be, for a quarter of it; of beeps too short to fill a block with others beside
 * it one that is as loud as they mostly are. What never pauses sounds all the time.
 */
export function usualOfParts(powers: Float64Array): number[] {
  const floor = noiseFloorPower(powers);
  return partsOf(powers).flatMap(({ startBlock, endBlock }) => {
    const inPart = powers.subarray(startBlock, endBlock);
    const least = Math.max(NOTHING_POWER, percentile(inPart, 1) * powerFromDb(-SOUNDING_WITHIN_DB));
    const standing = Math.max(least, floor * powerFromDb(STANDS_OUT_DB));
    const standsOut = blocksOver(inPart, standing);
    const sounding = standsOut.length > 0 ? standsOut : blocksOver(inPart, least);
    const within = withinRuns(sounding);
    // What is too short for that is told by its loudest block, wherever the part ends: of the others only a piece may be filled.
    const beside = (i: number): number => powers[startBlock + i] ?? 0;
    const peaks = sounding.filter((i) => inPart[i] >= Math.max(beside(i - 1), beside(i + 1)));
    const [blocks, share] = within.length > 0 ? [within, 0.25] : [peaks, 0.5];
    if (blocks.length === 0) return [];
    const soft = percentile(valuesAt(inPart, blocks), share);
    return [startBlock + blocks.find((i) => inPart[i] === soft)!];
  });
}

// Loops, as an hour has 36,000 blocks.

function blocksOver(powers: Float64Array, least: number): Int32Array {
  const found = new Int32Array(powers.length);
  let count = 0;
  for (let i = 0; i < powers.length; i++) if (powers[i] >= least) found[count++] = i;
  return found.subarray(0, count);
}

/** Of blocks in order those between two that are wanted as well. */
function withinRuns(blocks: Int32Array): Int32Array {
  const found = new Int32Array(blocks.length);
  let count = 0;
  for (let k = 1; k < blocks.length - 1; k++) if (blocks[k + 1] - blocks[k - 1] === 2) found[count++] = blocks[k];
  return found.subarray(0, count);
}

function valuesAt(values: Float64Array, places: Int32Array): Float64Array {
  const out = new Float64Array(places.length);
  for (let k = 0; k < places.length; k++) out[k] = values[places[k]];
  return out;
}

function partsOf({ length }: Float64Array): BlockSpan[] {
  const parts = Math.min(PARTS, length);
  return Array.from({ length: parts }, (_, part) => ({
    startBlock: Math.floor((part * length) / parts),
    endBlock: Math.floor(((part + 1) * length) / parts),
  }));
}
