import { LiveMeter } from '@pocket-twin/core/measure/live/liveMeter.ts';
import { Listening, type Heard, type When } from '@pocket-twin/core/repair/run/listening.ts';
import { CHUNK_FRAMES, CHUNKS_AHEAD, type FromWorklet, type ToWorklet, type WorkletOptions } from './protocol.ts';

// The audio worklet's own globals, which TypeScript's DOM library does not know.
declare const sampleRate: number;
declare function registerProcessor(
  name: string,
  processor: new (options: { processorOptions: WorkletOptions }) => AudioWorkletProcessor,
): void;
declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}

const BLOCK = 128;
const BLOCKS_BETWEEN_REPORTS = 10;
// More would hold up the sound itself: so long a delay begins with a gap.
const MOST_RUN_IN_FRAMES = 16384;

/** Plays a clip through the repair's own code: what is heard here is what is written. */
class ListenProcessor extends AudioWorkletProcessor {
  private readonly listening: Listening;
  private readonly meter = new LiveMeter(sampleRate);
  private readonly chunks = new Map<number, Float32Array[]>();
  private readonly wanted = new Set<number>();
  private readonly inputs: Float32Array[];
  private readonly frames: number;
  private frame = 0;
  private playing = false;
  private waiting = false;
  private heard: Heard = 'both';
  private when: When = 'after';
  private blocks = 0;
  private hasRunIn = true;
  /** At rest nothing changes: whoever listens is told so, and not forty times a second. */
  private hasNews = true;

  constructor({ processorOptions }: { processorOptions: WorkletOptions }) {
    super();
    this.frames = processorOptions.frames;
    this.listening = new Listening(processorOptions.channels);
    this.inputs = Array.from({ length: processorOptions.channels }, () => new Float32Array(BLOCK));
    this.port.onmessage = ({ data }: MessageEvent<ToWorklet>) => this.take(data);
    this.ask();
  }

  process(_inputs: Float32Array[][], [speakers]: Float32Array[][]): boolean {
    const ready = this.playing && this.runIn() && this.gather(this.frame);
    if (ready) {
      const { listening, inputs } = this;
      this.hasRunIn = !listening.process(this.frame, inputs, [speakers[0], speakers[1]], BLOCK, this.when, this.heard);
      this.meter.push(this.listening.sides, BLOCK);
      this.frame += BLOCK;
      if (this.frame >= this.frames) {
        this.playing = false;
        this.frame = 0;
      }
      this.ask();
    }
    this.waiting = this.playing && !ready;
    if (++this.blocks % BLOCKS_BETWEEN_REPORTS === 0 && this.hasNews) {
      this.hasNews = this.report() || this.playing;
    }
    return true;
  }

  private take(message: ToWorklet): void {
    this.hasNews = true;
    switch (message.kind) {
      case 'chunk':
        this.wanted.delete(message.index);
        this.chunks.set(message.index, message.channels);
        break;
      case 'play':
        this.playing = message.on;
        // The first block is told at once: a press of play is seen when it is heard.
        this.blocks = -1;
        break;
      case 'seek':
        this.frame = Math.max(0, Math.min(this.frames - 1, Math.round(message.frame)));
        this.hasRunIn = false;
        break;
      case 'hear':
        this.heard = message.heard;
        this.when = message.when;
        break;
      case 'repair':
        this.listening.setRepair(message.repair);
        this.hasRunIn = false;
    }
    this.ask();
  }

  private get runInFrames(): number {
    return Math.min(MOST_RUN_IN_FRAMES, this.listening.memoryFramesAt(this.frame));
  }

  /** What a delay makes earlier or later is there from the first frame on, wherever it begins. @returns false where a chunk has not come yet */
  private runIn(): boolean {
    if (this.hasRunIn) return true;
    const blocks = Math.min(Math.ceil(this.runInFrames / BLOCK), Math.floor(this.frame / BLOCK));
    for (let at = this.frame - blocks * BLOCK; at < this.frame; at += BLOCK) {
      if (!this.gather(at)) return false;
      this.listening.runIn(at, this.inputs, BLOCK);
    }
    this.hasRunIn = true;
    return true;
  }

  /** Fills the input block from the chunks. @returns false where a chunk has not come yet */
  private gather(startFrame: number): boolean {
    for (let done = 0; done < BLOCK;) {
      const at = startFrame + done;
      const chunk = this.chunks.get(Math.floor(at / CHUNK_FRAMES));
      if (!chunk && at < this.frames) return false;
      const offset = at % CHUNK_FRAMES;
      const available = chunk ? chunk[0].length - offset : 0;
      const take = Math.min(BLOCK - done, available);
      this.inputs.forEach((input, c) => {
        if (take > 0) input.set(chunk![c].subarray(offset, offset + take), done);
        else input.fill(0, done);
      });
      if (take <= 0) return true;
      done += take;
    }
    return true;
  }

  /** Asks for what plays next and lets go of what is far behind. */
  private ask(): void {
    const first = Math.floor(Math.max(0, this.frame - this.runInFrames) / CHUNK_FRAMES);
    const last = Math.min(
      Math.floor(this.frame / CHUNK_FRAMES) + CHUNKS_AHEAD,
      Math.floor((this.frames - 1) / CHUNK_FRAMES),
    );
    for (let index = first; index <= last; index++) {
      if (this.chunks.has(index) || this.wanted.has(index)) continue;
      this.wanted.add(index);
      this.send({ kind: 'want', index });
    }
    for (const index of this.chunks.keys()) {
      if (index < first - 1 || index > last) this.chunks.delete(index);
    }
  }

  /** @returns whether anything sounded: silence is to be told as well, as what was told last is what is known */
  private report(): boolean {
    const reading = this.meter.read();
    this.send({ kind: 'state', frame: this.frame, playing: this.playing, waiting: this.waiting, reading });
    return reading.peaks.some((peak) => peak > 0);
  }

  private send(message: FromWorklet): void {
    this.port.postMessage(message);
  }
}

registerProcessor('listen', ListenProcessor);
