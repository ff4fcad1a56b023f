import type { LiveReading } from '@pocket-twin/core/measure/live/liveMeter.ts';
import type { Heard, When } from '@pocket-twin/core/repair/run/listening.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { inBackground } from '../parts/inBackground.ts';
import { fetchSamples } from '../state/samples.ts';
import processorUrl from './listenProcessor.ts?worker&url';
import { CHUNK_FRAMES, type FromWorklet, type ToWorklet, type WorkletOptions } from './protocol.ts';

export interface PlayerState {
  frame: number;
  playing: boolean;
  /** Playing, but the samples have not come yet. */
  waiting: boolean;
  reading: LiveReading;
}

const AT_REST: PlayerState = {
  frame: 0,
  playing: false,
  waiting: false,
  reading: { peaks: [0, 0], clipped: [false, false], correlation: 0 },
};

/**
 * Plays one clip. The sound is made in an audio worklet; this side feeds it with samples and
 * passes on what it reports, some forty times a second.
 */
export class Player {
  state: PlayerState = AT_REST;
  private readonly listeners = new Set<(state: PlayerState) => void>();
  private context: AudioContext | null = null;
  private node: AudioWorkletNode | null = null;
  private starting: Promise<void> | null = null;
  private heard: Heard = 'both';
  private when: When = 'after';
  private repair: Repair | null = null;

  constructor(
    readonly clipId: string,
    readonly channels: number,
    readonly frames: number,
    readonly sampleRate: number,
    private readonly onTrouble: (sentence: string) => void,
  ) {}

  subscribe(listener: (state: PlayerState) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  async toggle(): Promise<void> {
    const on = !this.state.playing;
    await this.ready();
    await this.context?.resume();
    this.send({ kind: 'play', on });
    this.update({ ...this.state, playing: on });
  }

  /** Opens everything but the sound itself, so that the first press of play is heard at once. */
  async prepare(): Promise<void> {
    // What is wrong is said when someone wants to hear something.
    await (this.starting ??= this.open().catch(() => {
      this.starting = null;
    }));
  }

  seek(frame: number): void {
    const at = Math.max(0, Math.min(this.frames - 1, Math.round(frame)));
    this.send({ kind: 'seek', frame: at });
    this.update({ ...this.state, frame: at });
  }

  hear(heard: Heard, when: When): void {
    this.heard = heard;
    this.when = when;
    this.send({ kind: 'hear', heard, when });
  }

  setRepair(repair: Repair): void {
    this.repair = repair;
    this.send({ kind: 'repair', repair });
  }

  /** Lets go of the audio device; the next press of play opens it again. */
  close(): void {
    inBackground(this.context?.close());
    this.context = null;
    this.node = null;
    this.starting = null;
    this.state = { ...this.state, playing: false };
  }

  /** The first gesture opens the audio device, at the clip's own rate. */
  private ready(): Promise<void> {
    this.starting ??= this.open().catch(() => {
      this.starting = null;
      this.onTrouble('This browser has no sound output to play on.');
    });
    return this.starting;
  }

  private async open(): Promise<void> {
    const context = new AudioContext({ sampleRate: this.sampleRate });
    this.context = context;
    await context.audioWorklet.addModule(processorUrl);
    if (this.context !== context) return;
    const processorOptions: WorkletOptions = { channels: this.channels, frames: this.frames };
    this.node = new AudioWorkletNode(context, 'listen', {
      numberOfInputs: 0,
      outputChannelCount: [2],
      processorOptions,
    });
    this.node.port.onmessage = ({ data }: MessageEvent<FromWorklet>) => this.take(data);
    this.node.connect(context.destination);
    if (this.repair) this.send({ kind: 'repair', repair: this.repair });
    this.send({ kind: 'hear', heard: this.heard, when: this.when });
    this.send({ kind: 'seek', frame: this.state.frame });
  }

  private take(message: FromWorklet): void {
    if (message.kind === 'want') inBackground(this.deliver(message.index));
    else this.update(message);
  }

  private async deliver(index: number): Promise<void> {
    try {
      const channels = await fetchSamples(this.clipId, index * CHUNK_FRAMES, CHUNK_FRAMES, this.channels);
      this.node?.port.postMessage({ kind: 'chunk', index, channels } satisfies ToWorklet);
    } catch {
      if (this.context) this.onTrouble('The samples did not come. Is the server still running?');
    }
  }

  private send(message: ToWorklet): void {
    this.node?.port.postMessage(message);
  }

  private update(state: PlayerState): void {
    this.state = state;
    for (const listener of this.listeners) listener(state);
  }
}
