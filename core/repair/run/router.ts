import { gainFactor } from '../../signal/decibels.ts';
import type { Repair } from '../../schema/repair.ts';
import { ShiftLine } from './shiftLine.ts';

type Samples = Float32Array | Float64Array;

interface Feed {
  input: number;
  factor: number;
}

/**
 * Turns blocks of input channels into blocks of output channels, as a repair says. The only
 * code that makes output samples: the renderer runs it in 64-bit float and the listening worklet
 * in 32-bit, on the same plan.
 */
export class Router {
  /** Output channels of all output files, one after the other. */
  readonly outputChannels: number;
  /**
   * How many frames the output lags behind the input. A repair that makes a channel earlier holds
   * the others back; whoever writes a file drops this many frames at the start and feeds as many
   * frames of silence at the end, so that the length stays.
   */
  readonly latencyFrames: number;
  private readonly feeds: Feed[][];
  private readonly lines: (ShiftLine | null)[];
  private shifted: Float64Array[] = [];
  private nextFrame = 0;

  /** @param levelGainDb the gain that a level target was found to need, for all outputs */
  constructor(repair: Repair, levelGainDb = 0) {
    const trims = Array.from(
      { length: repair.inputChannels },
      (_, i) =>
        repair.trims.find((trim) => trim.channel === i + 1) ?? {
          gainDb: 0,
          polarity: 'normal' as const,
          delaySamples: 0,
        },
    );
    this.latencyFrames = latencyFor(trims.map((trim) => trim.delaySamples));
    this.lines = trims.map((trim) => {
      const delay = this.latencyFrames + trim.delaySamples;
      return delay === 0 ? null : new ShiftLine(delay);
    });
    const level = gainFactor(levelGainDb);
    this.feeds = repair.outputs
      .flatMap((output) => output.routes)
      .map((route) =>
        route.map(({ from, gainDb }) => ({
          input: from - 1,
          factor:
            gainFactor(gainDb) *
            gainFactor(trims[from - 1].gainDb) *
            (trims[from - 1].polarity === 'inverted' ? -1 : 1) *
            level,
        })),
      );
    this.outputChannels = this.feeds.length;
  }

  /**
   * @param startFrame where in the clip the inputs begin: elsewhere than where the last ones ended, nothing of those is left
   * @param outputs one array an output channel, each at least `frames` long
   */
  process(startFrame: number, inputs: readonly Samples[], outputs: readonly Samples[], frames: number): void {
    if (startFrame !== this.nextFrame) for (const line of this.lines) line?.clear();
    this.nextFrame = startFrame + frames;
    const shifted = this.shift(inputs, frames);
    for (let o = 0; o < this.feeds.length; o++) {
      const output = outputs[o];
      const [first, ...others] = this.feeds[o];
      const source = shifted[first.input];
      for (let i = 0; i < frames; i++) output[i] = source[i] * first.factor;
      for (const { input, factor } of others) {
        const added = shifted[input];
        for (let i = 0; i < frames; i++) output[i] += added[i] * factor;
      }
    }
  }

  private shift(inputs: readonly Samples[], frames: number): readonly Samples[] {
    if (this.lines.every((line) => line === null)) return inputs;
    return inputs.map((samples, c) => {
      const line = this.lines[c];
      if (!line) return samples;
      if (!this.shifted[c] || this.shifted[c].length < frames) this.shifted[c] = new Float64Array(frames);
      const delayed = this.shifted[c];
      for (let i = 0; i < frames; i++) delayed[i] = line.next(samples[i]);
      return delayed;
    });
  }
}

function latencyFor(delays: number[]): number {
  const earliest = Math.max(0, ...delays.map((delay) => Math.ceil(-delay)));
  const fractional = delays.some((delay) => !Number.isInteger(delay));
  return fractional ? earliest + ShiftLine.leastFractionalDelay : earliest;
}
