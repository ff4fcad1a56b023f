import quickselect from 'quickselect';
import { NOTHING_POWER } from '../boundaries.ts';

const FLOOR_PERCENTILE = 0.1;
// An hour has 36,000 blocks, which are ranked dozens of times for each pair: room for them is made once.
let room = new Float64Array(1024);

/** The value below which a share of the numbers lies (nearest rank). Empty input gives 0. */
export function percentile(values: ArrayLike<number>, share: number): number {
  makeRoom(values.length);
  room.set(values);
  return valueAt(share, values.length);
}

/**
 * The power of what goes on in the pauses: a low percentile of the block powers, over blocks that
 * are not digital silence. 0 where every block is.
 */
export function noiseFloorPower(blockPower: Float64Array): number {
  makeRoom(blockPower.length);
  let count = 0;
  for (let i = 0; i < blockPower.length; i++) if (blockPower[i] > NOTHING_POWER) room[count++] = blockPower[i];
  return valueAt(FLOOR_PERCENTILE, count);
}

function makeRoom(count: number): void {
  if (room.length < count) room = new Float64Array(count);
}

/** Of the first `count` numbers in the room, whose order is lost. */
function valueAt(share: number, count: number): number {
  if (count === 0) return 0;
  const rank = Math.min(count - 1, Math.floor(share * count));
  // It only swaps elements, which typed arrays can do too.
  quickselect(room as unknown as number[], rank, 0, count - 1);
  return room[rank];
}
