import { gaussian, seededRandom } from '../signal/random.ts';

/** Seeded choices: the same seed makes the same material. */
export class Chance {
  private readonly next: () => number;
  readonly normal: () => number;

  constructor(seed: number) {
    this.next = seededRandom(seed);
    this.normal = gaussian(this.next);
  }

  between(low: number, high: number): number {
    return low + (high - low) * this.next();
  }

  /** Evenly on a logarithmic scale. */
  betweenRatios(low: number, high: number): number {
    return low * (high / low) ** this.next();
  }

  integer(low: number, high: number): number {
    return Math.floor(this.between(low, high + 1));
  }

  often(share: number): boolean {
    return this.next() < share;
  }

  pick<T>(items: readonly T[]): T {
    return items[Math.floor(this.next() * items.length)];
  }

  seed(): number {
    return Math.floor(this.next() * 2 ** 31);
  }
}
