import { decodeWords } from '@pocket-twin/core/pcm/decodeWords.ts';
import { ShiftLine } from '@pocket-twin/core/repair/run/shiftLine.ts';
import type { PcmFile } from '../read/pcmFile.ts';

const LOOK_AHEAD = ShiftLine.leastFractionalDelay;

/** One file of several that become one: its sound after its silence, moved by a fraction of a sample where that puts it in step. Read from start to end. */
export class JoinedPart {
  readonly channels: number;
  /** Whether its samples are calculated, and not those that were read. */
  readonly isCalculated: boolean;
  private readonly lines: ShiftLine[] | null;
  private readonly wholeFrames: number;
  private readonly bytes: Uint8Array;
  private isPrimed = false;

  constructor(
    private readonly source: PcmFile,
    padFrames: number,
    private readonly mostFrames: number,
  ) {
    this.channels = source.location.channels;
    this.wholeFrames = Math.floor(padFrames);
    const fraction = padFrames - this.wholeFrames;
    this.isCalculated = fraction > 0;
    this.lines = this.isCalculated
      ? Array.from({ length: this.channels }, () => new ShiftLine(LOOK_AHEAD + fraction))
      : null;
    this.bytes = new Uint8Array(mostFrames * source.frameBytes);
  }

  /** The next frames of the joined file. @param planes one a channel */
  async read(startFrame: number, frames: number, planes: Float64Array[]): Promise<void> {
    const { lines } = this;
    if (lines === null) return this.readPlain(startFrame, frames, planes);
    // The interpolation looks ahead, so what it gives first is of before the start.
    if (!this.isPrimed) {
      this.isPrimed = true;
      await this.shifted(lines, startFrame, Math.min(LOOK_AHEAD, this.mostFrames), planes);
    }
    await this.shifted(lines, startFrame + LOOK_AHEAD, frames, planes);
  }

  private async shifted(lines: ShiftLine[], startFrame: number, frames: number, planes: Float64Array[]): Promise<void> {
    await this.readPlain(startFrame, frames, planes);
    for (const [c, line] of lines.entries()) line.process(Float64Array.from(planes[c]), planes[c], frames);
  }

  /** Silence before its first frame and after its last. */
  private async readPlain(startFrame: number, frames: number, planes: Float64Array[]): Promise<void> {
    const silent = Math.max(0, Math.min(frames, this.wholeFrames - startFrame));
    for (const plane of planes) plane.fill(0);
    const got = await this.source.read(startFrame + silent - this.wholeFrames, frames - silent, this.bytes);
    decodeWords(
      this.bytes,
      this.source.location.words,
      planes.map((plane) => plane.subarray(silent)),
      got,
    );
  }
}
