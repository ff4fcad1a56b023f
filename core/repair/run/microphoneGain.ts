import type { Microphone, Turns } from '../../schema/repair.ts';
import { gainFactor } from '../../signal/decibels.ts';
import type { FrameSpan } from '../../time/spans.ts';
import { openSpans } from '../plan/openness.ts';

/**
 * The gain of one microphone in time: full in its turns, closed between them, with fades of raised cosine before and after. Where a fade out and
 * the next fade in meet, the higher of the two holds.
 */
export class MicrophoneGain {
  private readonly open: FrameSpan[];
  private readonly closed: number;
  private readonly fadeIn: number;
  private readonly fadeOut: number;

  constructor(turns: Turns, microphone: Microphone) {
    this.open = openSpans(turns, microphone);
    this.closed = microphone.closedDb === null ? 0 : gainFactor(microphone.closedDb);
    this.fadeIn = microphone.fadeInFrames;
    this.fadeOut = microphone.fadeOutFrames;
  }

  /** Times the gain, in place. @param startFrame of the clip as it is written */
  apply(startFrame: number, samples: Float64Array, frames: number): void {
    const end = startFrame + frames;
    let at = startFrame;
    for (let i = this.firstEndingAfter(startFrame); i < this.open.length && at < end; i++) {
      const { startFrame: from, endFrame: to } = this.open[i];
      if (from - this.fadeIn >= end) break;
      // Each takes what lies before the next one's fade in or full opening, whichever is heard more.
      const next = this.open[i + 1];
      const mine = next ? Math.max(to, Math.min(to + this.fadeOut, next.startFrame)) : to + this.fadeOut;
      at = this.times(samples, startFrame, at, Math.min(end, from - this.fadeIn), this.closed);
      const fadeInEnd = Math.min(end, from);
      for (; at < fadeInEnd; at++) samples[at - startFrame] *= this.rising(at, i);
      at = Math.max(at, Math.min(end, to));
      const fadeOutEnd = Math.min(end, mine);
      for (; at < fadeOutEnd; at++)
        samples[at - startFrame] *= Math.max(this.falling(at, to), next ? this.rising(at, i + 1) : 0);
    }
    this.times(samples, startFrame, at, end, this.closed);
  }

  private times(samples: Float64Array, startFrame: number, from: number, to: number, factor: number): number {
    for (let at = from; at < to; at++) samples[at - startFrame] *= factor;
    return Math.max(from, to);
  }

  /** The gain before turn i, from closed to open. */
  private rising(frame: number, i: number): number {
    const { startFrame } = this.open[i];
    if (frame >= startFrame) return 1;
    const share = (frame + 0.5 - (startFrame - this.fadeIn)) / this.fadeIn;
    return this.between(share);
  }

  private falling(frame: number, endFrame: number): number {
    return this.between(1 - (frame + 0.5 - endFrame) / this.fadeOut);
  }

  /** @param share 0 closed, 1 open */
  private between(share: number): number {
    if (share <= 0) return this.closed;
    return this.closed + (1 - this.closed) * Math.sin((Math.PI / 2) * Math.min(1, share)) ** 2;
  }

  /** The first turn that is not wholly over, its fade out included. */
  private firstEndingAfter(frame: number): number {
    let low = 0;
    let high = this.open.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.open[middle].endFrame + this.fadeOut <= frame) low = middle + 1;
      else high = middle;
    }
    return low;
  }
}
