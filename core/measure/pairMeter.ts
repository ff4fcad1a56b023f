import type { ChannelMeter } from './channelMeter.ts';
import { integratedLoudness } from './loudness.ts';
import type { PairMeasurement } from './measurement.ts';
import { Series } from './series.ts';

/** What two channels have to do with each other, at no lag. */
export class PairMeter {
  private readonly blockProduct = new Series();
  private product = 0;
  private differenceSquare = 0;

  constructor(private readonly channels: [number, number], private readonly sides: [ChannelMeter, ChannelMeter]) {}

  pushBlock(left: Float64Array, right: Float64Array, frames: number): void {
    let product = 0;
    let differenceSquare = 0;
    for (let i = 0; i < frames; i++) {
      const l = left[i];
      const r = right[i];
      product += l * r;
      differenceSquare += (l - r) * (l - r);
    }
    this.product += product;
    this.differenceSquare += differenceSquare;
    this.blockProduct.push(product / frames);
  }

  finish(): PairMeasurement {
    const [left, right] = this.sides.map((side) => side.weightedPowers);
    return {
      channels: this.channels,
      loudnessLufs: integratedLoudness(left.map((power, i) => power + right[i])),
      product: this.product,
      squares: [this.sides[0].squareSum, this.sides[1].squareSum],
      differenceSquare: this.differenceSquare,
      blockProduct: this.blockProduct.toArray(),
    };
  }
}
