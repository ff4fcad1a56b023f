import { powerFromDb } from '../signal/decibels.ts';
import { NOTHING_POWER } from './noiseFloor.ts';

// In blocks of 100 ms.
const NOISE_WINDOW = 20;
const NOISE_BLOCKS = 4;
// Noise moves by a few tenths of a decibel from one block to the next.
const MOST_NOISE = powerFromDb(1);
// Steady sound louder than this was recorded on purpose.
const LOUDEST_NOISE = powerFromDb(-45);
const STEADY = powerFromDb(2);
// Speech and music stand this far out of their noise.
const STANDS_OUT = powerFromDb(10);

/** Noise as a window of blocks shows it. It is sure where the quietest blocks are alike: quiet syllables differ. */
interface Noise {
  power: number;
  sure: boolean;
}

/** The noise (a power) under each block as the two seconds before it and the two after it have it. Where only one of them is sure it speaks for both. */
export function noiseBesides(powers: Float64Array): { before: Float64Array; after: Float64Array } {
  // What follows a block is what went before the window's last block.
  const window = new SortedWindow();
  const known = Array.from({ length: powers.length }, (_, i) => {
    if (i >= NOISE_WINDOW) window.take(powers[i - NOISE_WINDOW]);
    window.put(powers[i]);
    return noiseOf(window);
  });
  const [before, after] = [powers.slice(), powers.slice()];
  for (let i = 0; i < powers.length; i++) {
    const [earlier, later] = [known[i], known[Math.min(powers.length, i + NOISE_WINDOW) - 1]];
    const first = later.sure && !earlier.sure ? later : earlier;
    const second = earlier.sure && !later.sure ? earlier : later;
    before[i] = Math.min(MOST_NOISE * powers[i], first.power || second.power);
    after[i] = Math.min(MOST_NOISE * powers[i], second.power || first.power);
  }
  return { before, after };
}

/**
 * Where blocks are steady it is all noise, where they fall back as speech does it is what they fall back to; music tells nothing of its noise (0).
 */
function noiseOf({ sorted, count }: SortedWindow): Noise {
  if (count === 0) return { power: 0, sure: false };
  const [low, middle, high] = [sorted[Math.floor(0.1 * count)], sorted[Math.floor(0.5 * count)], sorted[Math.floor(0.9 * count)]];
  const known = low < LOUDEST_NOISE && (middle < STEADY * low || high > STANDS_OUT * low);
  return { power: known ? low : 0, sure: known && count > NOISE_BLOCKS && sorted[NOISE_BLOCKS] <= STEADY * sorted[1] };
}

/** The powers of a window from the lowest, without digital silence. */
class SortedWindow {
  readonly sorted = new Float64Array(NOISE_WINDOW);
  count = 0;

  put(power: number): void {
    if (power <= NOTHING_POWER) return;
    let at = this.count++;
    for (; at > 0 && this.sorted[at - 1] > power; at--) this.sorted[at] = this.sorted[at - 1];
    this.sorted[at] = power;
  }

  take(power: number): void {
    if (power <= NOTHING_POWER) return;
    this.sorted.copyWithin(this.sorted.indexOf(power), this.sorted.indexOf(power) + 1, this.count--);
  }
}
