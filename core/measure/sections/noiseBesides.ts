import { powerFromDb } from '../../signal/decibels.ts';
import { NOTHING_POWER, STANDS_OUT_DB } from '../boundaries.ts';

// In blocks of 100 ms.
const NOISE_WINDOW = 20;
const NOISE_BLOCKS = 4;
// Noise moves by a few tenths of a decibel from one block to the next.
const MOST_NOISE = powerFromDb(1);
// Steady sound louder than this was recorded on purpose.
const LOUDEST_NOISE = powerFromDb(-45);
const STEADY = powerFromDb(2);
// Speech and music stand this far out of their noise.
const STANDS_OUT = powerFromDb(STANDS_OUT_DB);

/** The noise (a power) under each block as the two seconds before it and the two after it have it. Where only one of them is sure it speaks for both. */
export function noiseBesides(powers: Float64Array): { before: Float64Array; after: Float64Array } {
  // What each block's window, of itself and those before it, shows; what follows a block is the window of a later one.
  const noise = new Float64Array(powers.length);
  const sure = new Uint8Array(powers.length);
  const window = new SortedWindow();
  for (let i = 0; i < powers.length; i++) {
    if (i >= NOISE_WINDOW) window.take(powers[i - NOISE_WINDOW]);
    window.put(powers[i]);
    noise[i] = noiseOf(window);
    sure[i] = noise[i] > 0 && isSure(window) ? 1 : 0;
  }
  const before = powers.slice();
  const after = powers.slice();
  for (let i = 0; i < powers.length; i++) {
    const later = Math.min(powers.length, i + NOISE_WINDOW) - 1;
    const first = noise[sure[later] > sure[i] ? later : i];
    const second = noise[sure[i] > sure[later] ? i : later];
    before[i] = Math.min(MOST_NOISE * powers[i], first || second);
    after[i] = Math.min(MOST_NOISE * powers[i], second || first);
  }
  return { before, after };
}

/** Where blocks are steady it is all noise, where they fall back as speech does it is what they fall back to; music tells nothing of its noise (0). */
function noiseOf({ sorted, count }: SortedWindow): number {
  if (count === 0) return 0;
  const low = sorted[Math.floor(0.1 * count)];
  const middle = sorted[Math.floor(0.5 * count)];
  const high = sorted[Math.floor(0.9 * count)];
  return low < LOUDEST_NOISE && (middle < STEADY * low || high > STANDS_OUT * low) ? low : 0;
}

/** Noise is sure where the quietest blocks are alike: quiet syllables differ. */
function isSure({ sorted, count }: SortedWindow): boolean {
  return count > NOISE_BLOCKS && sorted[NOISE_BLOCKS] <= STEADY * sorted[1];
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
