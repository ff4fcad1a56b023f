/** Where something lies in the ribbon, as shares of its height. */
export interface Lane {
  top: number;
  height: number;
}

/** Two neighbouring channels of the ribbon, or a last single one. */
export interface PairLane extends Lane {
  channels: number[];
  isFolded: boolean;
}

/** Of a stereo ribbon so much is the lane of what differs. */
export const DIFFERENCE_SHARE = 0.16;
// A half-ribbon of less shows no speech; a folded pair still shows that there is sound.
const OPEN_PAIR_PIXELS = 108;
const FOLDED_PAIR_PIXELS = 24;

function pairCount(channels: number): number {
  return Math.ceil(channels / 2);
}

/** How high a ribbon of many channels is at least. @param folded pairs, from 0 */
export function leastRibbonPixels(channels: number, folded: readonly number[]): number {
  if (channels <= 4) return 0;
  return pairHeights(channels, folded).reduce((sum, height) => sum + height, 0);
}

/** The pairs from top to bottom. @param folded pairs, from 0 */
export function pairLanes(channels: number, folded: readonly number[]): PairLane[] {
  const heights = pairHeights(channels, folded);
  const scale = (channels === 2 ? 1 - DIFFERENCE_SHARE : 1) / heights.reduce((sum, height) => sum + height, 0);
  let top = 0;
  return heights.map((pixels, pair) => {
    const lane = {
      top,
      height: pixels * scale,
      channels: [2 * pair + 1, 2 * pair + 2].filter((channel) => channel <= channels),
      isFolded: folded.includes(pair),
    };
    top += lane.height;
    return lane;
  });
}

/** Where one channel's half of the ribbon lies. */
export function laneOf(channel: number, channels: number, folded: readonly number[]): Lane {
  const { top, height, channels: both } = pairLanes(channels, folded)[pairCount(channel) - 1];
  return both.length === 1 ? { top, height } : { top: top + (height / 2) * both.indexOf(channel), height: height / 2 };
}

function pairHeights(channels: number, folded: readonly number[]): number[] {
  return Array.from({ length: pairCount(channels) }, (_, pair) =>
    folded.includes(pair) ? FOLDED_PAIR_PIXELS : OPEN_PAIR_PIXELS,
  );
}
