import type { PcmFile } from '../read/pcmFile.ts';

/** Reads a written file in the runs in which it was written, each next one while the last is looked at. */
export class ReadBack {
  private readonly buffers = [new Uint8Array(0), new Uint8Array(0)];
  private slot = 0;
  private ahead: { startFrame: number; frames: number; bytes: Promise<Uint8Array> } | null = null;

  constructor(private readonly file: PcmFile) {}

  /** @returns the bytes of a run, fewer where the file ends before it; good until the second reading after it */
  async next(startFrame: number, frames: number): Promise<Uint8Array> {
    const { ahead } = this;
    const isThere = ahead?.startFrame === startFrame && ahead.frames === frames;
    if (ahead && !isThere) await ahead.bytes;
    const bytes = await (isThere ? ahead.bytes : this.read(startFrame, frames));
    const next = { startFrame: startFrame + frames, frames };
    this.ahead = { ...next, bytes: this.read(next.startFrame, frames) };
    // Awaited a run later, or at the end; until then a failure must not count as unhandled.
    this.ahead.bytes.catch(() => undefined);
    return bytes;
  }

  /** Nothing is read any more. */
  async finish(): Promise<void> {
    await this.ahead?.bytes.catch(() => undefined);
  }

  private async read(startFrame: number, frames: number): Promise<Uint8Array> {
    const { frameBytes } = this.file;
    this.slot = 1 - this.slot;
    const slot = this.slot;
    if (this.buffers[slot].length < frames * frameBytes) this.buffers[slot] = new Uint8Array(frames * frameBytes);
    const buffer = this.buffers[slot];
    return buffer.subarray(0, (await this.file.read(startFrame, frames, buffer)) * frameBytes);
  }
}
