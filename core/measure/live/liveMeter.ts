/** What the moving meters show, linear with full scale at 1. */
export interface LiveReading {
  peaks: [number, number];
  /** Whether a side has reached full scale three samples in a row since the reading before. */
  clipped: [boolean, boolean];
  /** -1..1 over about the last third of a second; 0 where there is nothing. */
  correlation: number;
}

const CLIP_RUN = 3;
const CORRELATION_SECONDS = 0.3;

/** Meters for a stereo stream as it plays: peaks between readings, and a correlation that forgets. */
export class LiveMeter {
  private readonly keep: number;
  private peaks: [number, number] = [0, 0];
  private runs: [number, number] = [0, 0];
  private clipped: [boolean, boolean] = [false, false];
  private leftSquare = 0;
  private rightSquare = 0;
  private product = 0;

  constructor(sampleRate: number) {
    this.keep = Math.exp(-1 / (CORRELATION_SECONDS * sampleRate));
  }

  push([left, right]: readonly [Float32Array, Float32Array], frames: number): void {
    for (let i = 0; i < frames; i++) {
      this.note(0, left[i]);
      this.note(1, right[i]);
      this.leftSquare = this.leftSquare * this.keep + left[i] * left[i];
      this.rightSquare = this.rightSquare * this.keep + right[i] * right[i];
      this.product = this.product * this.keep + left[i] * right[i];
    }
  }

  /** The reading since the last one. */
  read(): LiveReading {
    const scale = Math.sqrt(this.leftSquare * this.rightSquare);
    const reading: LiveReading = {
      peaks: this.peaks,
      clipped: this.clipped,
      correlation: scale > 1e-12 ? Math.max(-1, Math.min(1, this.product / scale)) : 0,
    };
    this.peaks = [0, 0];
    this.clipped = [false, false];
    return reading;
  }

  private note(side: 0 | 1, sample: number): void {
    const level = Math.abs(sample);
    if (level > this.peaks[side]) this.peaks[side] = level;
    this.runs[side] = level >= 0.99996 ? this.runs[side] + 1 : 0;
    if (this.runs[side] >= CLIP_RUN) this.clipped[side] = true;
  }
}
