import type { InputTrim, Repair, Route } from '../../schema/repair.ts';
import { gainFactor } from '../../signal/decibels.ts';
import { timelineOf, type Joint } from '../plan/timeline.ts';
import { NO_TRIM } from '../plan/trims.ts';
import { MicrophoneGain } from './microphoneGain.ts';
import { MovingLine } from './movingLine.ts';
import { ShiftLine } from './shiftLine.ts';

type Samples = Float32Array | Float64Array;

interface Feed {
  input: number;
  factor: number;
}

/** One output channel in time: what feeds it from which frame on, and where one gives way to the next. */
interface OutputFeeds {
  /** An output before it that is fed just the same; null where there is none. */
  sameAs: number | null;
  starts: number[];
  feeds: Feed[][];
  joints: Joint[];
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
  private readonly outputs: OutputFeeds[];
  private readonly lines: (ShiftLine | MovingLine | null)[];
  private readonly gains: (MicrophoneGain | null)[];
  private prepared: Float64Array[] = [];
  private fading = new Float64Array(0);
  private nextFrame = 0;

  /** @param levelGainDb the gain that a level target was found to need, for all outputs */
  constructor(repair: Repair, levelGainDb = 0) {
    const trims = Array.from(
      { length: repair.inputChannels },
      (_, i) => repair.trims.find((trim) => trim.channel === i + 1) ?? { channel: i + 1, ...NO_TRIM },
    );
    this.latencyFrames = latencyFor(trims);
    this.lines = trims.map(({ delaySamples, course }) => {
      if (course) return new MovingLine(this.latencyFrames, delaySamples, course);
      const delay = this.latencyFrames + delaySamples;
      return delay === 0 ? null : new ShiftLine(delay);
    });
    this.gains = trims.map((_, i) => {
      const microphone = repair.turns?.microphones.find(({ channel }) => channel === i + 1);
      return microphone ? new MicrophoneGain(repair.turns!, microphone) : null;
    });
    const level = gainFactor(levelGainDb);
    const sign = (polarity: 'normal' | 'inverted'): number => (polarity === 'inverted' ? -1 : 1);
    const feedsOf = (route: Route): Feed[] =>
      route.map(({ from, gainDb, polarity }) => ({
        input: from - 1,
        factor:
          gainFactor(gainDb) *
          gainFactor(trims[from - 1].gainDb) *
          sign(polarity) *
          sign(trims[from - 1].polarity) *
          level,
      }));
    this.outputChannels = repair.outputs.reduce((sum, { routes }) => sum + routes.length, 0);
    const timelines = Array.from({ length: this.outputChannels }, (_, channel) => timelineOf(repair, channel));
    const texts = timelines.map((timeline) => JSON.stringify(timeline));
    this.outputs = timelines.map(({ pieces, joints }, channel) => {
      const first = texts.indexOf(texts[channel]);
      return {
        sameAs: first < channel ? first : null,
        starts: pieces.map(({ startFrame }) => startFrame),
        feeds: pieces.map(({ route }) => feedsOf(route)),
        joints,
      };
    });
  }

  /** How far back in the input what is heard from a frame of it on reaches. */
  memoryFramesAt(startFrame: number): number {
    const heardFrame = startFrame - this.latencyFrames;
    return Math.max(0, ...this.lines.map((line) => line?.memoryFramesAt(heardFrame) ?? 0));
  }

  /**
   * @param startFrame where in the clip the inputs begin: elsewhere than where the last ones ended, nothing of those is left
   * @param outputs one array an output channel, each at least `frames` long
   */
  process(startFrame: number, inputs: readonly Samples[], outputs: readonly Samples[], frames: number): void {
    if (startFrame !== this.nextFrame) for (const line of this.lines) line?.clear();
    this.nextFrame = startFrame + frames;
    // Sections and turns stand in the frames of the clip as it is written: what lags behind the input is counted back.
    const heardFrame = startFrame - this.latencyFrames;
    const sources = inputs.map((samples, c) => this.prepare(c, samples, heardFrame, frames));
    this.outputs.forEach((output, o) => {
      if (output.sameAs !== null) copy(outputs[output.sameAs], outputs[o], frames);
      else this.fill(outputs[o], output, sources, heardFrame, frames);
    });
  }

  /** A channel moved in time and opened and closed; as it is where the repair does neither. */
  private prepare(channel: number, samples: Samples, heardFrame: number, frames: number): Samples {
    const line = this.lines[channel];
    const gain = this.gains[channel];
    if (!line && !gain) return samples;
    if (!this.prepared[channel] || this.prepared[channel].length < frames)
      this.prepared[channel] = new Float64Array(frames);
    const prepared = this.prepared[channel];
    if (line instanceof MovingLine) line.process(samples, prepared, heardFrame, frames);
    else if (line) line.process(samples, prepared, frames);
    else for (let i = 0; i < frames; i++) prepared[i] = samples[i];
    gain?.apply(heardFrame, prepared, frames);
    return prepared;
  }

  private fill(
    target: Samples,
    { starts, feeds, joints }: OutputFeeds,
    sources: readonly Samples[],
    heardFrame: number,
    frames: number,
  ): void {
    const end = heardFrame + frames;
    let piece = lastAtOrBefore(starts, heardFrame);
    // A joint may begin before the boundary it belongs to: the piece it leads to has not begun yet.
    while (piece > 0 && joints[piece - 1].endFrame > heardFrame) piece--;
    let at = heardFrame;
    while (at < end) {
      const joint = joints[piece];
      const pureEnd = Math.min(end, joint ? Math.max(at, joint.startFrame) : Infinity);
      if (pureEnd > at) {
        mixInto(target, feeds[piece], sources, at - heardFrame, pureEnd - heardFrame);
        at = pureEnd;
      }
      if (!joint || at >= end) continue;
      const fadeEnd = Math.min(end, joint.endFrame);
      if (fadeEnd > at) {
        this.fade(target, [feeds[piece], feeds[piece + 1]], joint, sources, { heardFrame, at, fadeEnd });
        at = fadeEnd;
      }
      if (at >= joint.endFrame) piece++;
    }
  }

  private fade(
    target: Samples,
    [before, after]: [Feed[], Feed[]],
    joint: Joint,
    sources: readonly Samples[],
    { heardFrame, at, fadeEnd }: { heardFrame: number; at: number; fadeEnd: number },
  ): void {
    const from = at - heardFrame;
    const to = fadeEnd - heardFrame;
    if (this.fading.length < to) this.fading = new Float64Array(to);
    mixInto(target, before, sources, from, to);
    mixInto(this.fading, after, sources, from, to);
    const length = joint.endFrame - joint.startFrame;
    for (let i = from; i < to; i++) {
      // The middle of each sample's own time: a fade and its mirror image are alike.
      const angle = ((heardFrame + i - joint.startFrame + 0.5) / length) * (Math.PI / 2);
      const out = Math.cos(angle);
      const into = Math.sin(angle);
      target[i] =
        joint.kind === 'equal-power'
          ? target[i] * out + this.fading[i] * into
          : target[i] * out * out + this.fading[i] * into * into;
    }
  }
}

function copy(from: Samples, to: Samples, frames: number): void {
  if (from.length === frames) to.set(from);
  else to.set(from.subarray(0, frames));
}

function mixInto(target: Samples, feeds: Feed[], sources: readonly Samples[], from: number, to: number): void {
  if (feeds.length === 0) {
    target.fill(0, from, to);
    return;
  }
  const [first, ...others] = feeds;
  const source = sources[first.input];
  for (let i = from; i < to; i++) target[i] = source[i] * first.factor;
  for (const { input, factor } of others) {
    const added = sources[input];
    for (let i = from; i < to; i++) target[i] += added[i] * factor;
  }
}

/** The place of the last value that is not over `value`; 0 where all are. */
function lastAtOrBefore(sorted: readonly number[], value: number): number {
  let low = 0;
  let high = sorted.length;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (sorted[middle] <= value) low = middle;
    else high = middle;
  }
  return low;
}

function latencyFor(trims: InputTrim[]): number {
  const earliest = Math.max(0, ...trims.map(({ delaySamples }) => Math.ceil(-delaySamples)));
  const fractional = trims.some(({ delaySamples, course }) => course || !Number.isInteger(delaySamples));
  return fractional ? earliest + ShiftLine.leastFractionalDelay : earliest;
}
