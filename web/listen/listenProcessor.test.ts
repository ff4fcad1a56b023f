import { fillFrom, leaveAsItIs, swapSides } from '@pocket-twin/core/repair/plan/plans.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { noise } from '@pocket-twin/core/synth/noise.ts';
import { CHUNK_FRAMES, CHUNKS_AHEAD, type FromWorklet, type ToWorklet } from './protocol.ts';

// The audio worklet as the browser runs it: asked for 128 frames at a time, fed with chunks from outside.

const BLOCK = 128;
const FADE_BLOCKS = 3;

interface Processor {
  port: { onmessage: (event: { data: ToWorklet }) => void };
  process(inputs: unknown[], outputs: Float32Array[][]): boolean;
}
type ProcessorClass = new (options: { processorOptions: { channels: number; frames: number } }) => Processor;

let Registered: ProcessorClass;
let said: FromWorklet[];
beforeAll(async () => {
  Object.assign(globalThis, {
    sampleRate: 48000,
    AudioWorkletProcessor: class {
      port = { onmessage: null, postMessage: (message: FromWorklet) => said.push(message) };
    },
    registerProcessor: (_name: string, processor: ProcessorClass) => {
      Registered = processor;
    },
  });
  await import('./listenProcessor.ts');
});
beforeEach(() => {
  said = [];
});

/** A clip that plays: its chunks are given as they are asked for, or held back. */
class Playing {
  readonly processor: Processor;
  held = false;

  constructor(private readonly channels: Float32Array[]) {
    this.processor = new Registered({ processorOptions: { channels: channels.length, frames: channels[0].length } });
  }

  tell(message: ToWorklet): void {
    this.processor.port.onmessage({ data: message });
  }

  /** What the speakers get for a number of blocks. */
  hear(blocks: number): [Float32Array, Float32Array] {
    const heard: [Float32Array, Float32Array] = [new Float32Array(blocks * BLOCK), new Float32Array(blocks * BLOCK)];
    for (let b = 0; b < blocks; b++) {
      if (!this.held) this.answer();
      const speakers = [new Float32Array(BLOCK), new Float32Array(BLOCK)];
      this.processor.process([], [speakers]);
      speakers.forEach((speaker, side) => heard[side].set(speaker, b * BLOCK));
    }
    return heard;
  }

  answer(): void {
    const asked = said.filter((message) => message.kind === 'want');
    said = said.filter((message) => message.kind !== 'want');
    for (const message of asked) {
      const start = message.index * CHUNK_FRAMES;
      this.tell({
        kind: 'chunk',
        index: message.index,
        channels: this.channels.map((channel) => channel.slice(start, start + CHUNK_FRAMES)),
      });
    }
  }
}

const sound = (seed: number, frames = 6 * CHUNK_FRAMES + 1000): Float32Array =>
  Float32Array.from(noise(0.1, frames / 48000, seed)).subarray(0, frames);
const settled = (heard: Float32Array): Float32Array => heard.subarray(FADE_BLOCKS * BLOCK);
const states = (): Extract<FromWorklet, { kind: 'state' }>[] => said.filter((message) => message.kind === 'state');

test('as recorded, what is heard are the clip’s very samples, over the seams between chunks', () => {
  const [left, right] = [sound(1), sound(2)];
  const playing = new Playing([left, right]);
  playing.tell({ kind: 'repair', repair: leaveAsItIs(2) });
  playing.tell({ kind: 'play', on: true });
  const blocks = Math.ceil((2 * CHUNK_FRAMES + 5 * BLOCK) / BLOCK);
  const [inLeft, inRight] = playing.hear(blocks);
  expect(inLeft).toEqual(left.slice(0, blocks * BLOCK));
  expect(inRight).toEqual(right.slice(0, blocks * BLOCK));
});

test('repaired, what is heard is what the repair writes; before and after change at the same place within a few milliseconds', () => {
  const [left, right] = [sound(1), sound(2)];
  const playing = new Playing([left, right]);
  playing.tell({ kind: 'repair', repair: fillFrom(1, 2) });
  playing.tell({ kind: 'hear', heard: 'both', when: 'after' });
  playing.tell({ kind: 'play', on: true });
  const filled = playing.hear(20);
  expect(settled(filled[1])).toEqual(settled(left.slice(0, 20 * BLOCK)));
  playing.tell({ kind: 'hear', heard: 'both', when: 'before' });
  const before = playing.hear(20);
  expect(settled(before[1])).toEqual(settled(right.slice(20 * BLOCK, 40 * BLOCK)));
});

test.each<['left' | 'right' | 'sum' | 'difference', (l: number, r: number) => number]>([
  ['left', (l) => l],
  ['right', (_l, r) => r],
  ['sum', (l, r) => (l + r) / 2],
  ['difference', (l, r) => (l - r) / 2],
])('%s alone comes from both speakers', (heard, of) => {
  const [left, right] = [sound(1), sound(2)];
  const playing = new Playing([left, right]);
  playing.tell({ kind: 'repair', repair: swapSides(2) });
  playing.tell({ kind: 'hear', heard, when: 'before' });
  playing.tell({ kind: 'play', on: true });
  const speakers = playing.hear(8);
  for (const speaker of speakers) {
    settled(speaker).forEach((x, i) =>
      expect(x).toBeCloseTo(of(left[FADE_BLOCKS * BLOCK + i], right[FADE_BLOCKS * BLOCK + i]), 6),
    );
  }
});

const late = (delaySamples: number): Repair => ({
  ...leaveAsItIs(2),
  action: 'trim',
  trims: [{ channel: 1, gainDb: 0, polarity: 'normal', delaySamples }],
});

test('a knob turned while it plays is heard at once, without a click and without a gap, also after a jump', () => {
  const [left, right] = [sound(1), sound(2)];
  const playing = new Playing([left, right]);
  playing.tell({ kind: 'hear', heard: 'both', when: 'after' });
  playing.tell({ kind: 'play', on: true });
  playing.hear(40);
  playing.tell({ kind: 'repair', repair: late(600) });
  const turned = playing.hear(20);
  expect(settled(turned[0])).toEqual(left.slice(43 * BLOCK - 600, 60 * BLOCK - 600));
  expect(settled(turned[1])).toEqual(right.slice(43 * BLOCK, 60 * BLOCK));
  const place = 3 * CHUNK_FRAMES + 100;
  playing.tell({ kind: 'seek', frame: place });
  expect(playing.hear(20)[0]).toEqual(left.slice(place - 600, place - 600 + 20 * BLOCK));
});

test('turned faster than one fade takes, a knob ends where it was left, and nothing jumps on the way', () => {
  const tone = Float32Array.from({ length: 3 * CHUNK_FRAMES }, (_, i) => 0.5 * Math.sin(2 * Math.PI * 0.002 * i));
  const playing = new Playing([tone, tone]);
  playing.tell({ kind: 'hear', heard: 'both', when: 'after' });
  playing.tell({ kind: 'play', on: true });
  playing.hear(40);
  const heard: number[] = [];
  for (let gainDb = -1; gainDb >= -12; gainDb--) {
    playing.tell({ kind: 'repair', repair: { ...late(0), trims: [{ ...late(0).trims[0], gainDb }] } });
    heard.push(...playing.hear(1)[0]);
  }
  heard.push(...playing.hear(10)[0]);
  const steps = heard.slice(1).map((x, i) => Math.abs(x - heard[i]));
  expect(Math.max(...steps)).toBeLessThan(0.5 * 2 * Math.PI * 0.002 + 0.5 / 256);
  const at = 40 * BLOCK + heard.length - 1;
  expect(heard.at(-1)).toBeCloseTo(tone[at] * 10 ** (-12 / 20), 6);
});

test('where a chunk has not come, it waits in silence and goes on at the very sample', () => {
  const left = sound(1);
  const playing = new Playing([left]);
  playing.tell({ kind: 'play', on: true });
  const perChunk = CHUNK_FRAMES / BLOCK;
  playing.answer();
  playing.hear(perChunk - 1);
  playing.tell({ kind: 'seek', frame: 5.5 * CHUNK_FRAMES });
  playing.held = true;
  expect(playing.hear(30).every((speaker) => speaker.every((x) => x === 0))).toBe(true);
  expect(states().at(-1)).toMatchObject({ waiting: true, playing: true, frame: 5.5 * CHUNK_FRAMES });
  playing.held = false;
  expect(playing.hear(4)[0]).toEqual(left.slice(5.5 * CHUNK_FRAMES, 5.5 * CHUNK_FRAMES + 4 * BLOCK));
});

test('no more is asked for than what plays next, nothing twice, and the end stops it at the beginning', () => {
  const frames = 3 * CHUNK_FRAMES + 77;
  const playing = new Playing([sound(1, frames)]);
  playing.held = true;
  playing.hear(40);
  expect(said.flatMap((message) => (message.kind === 'want' ? [message.index] : []))).toEqual(
    Array.from({ length: Math.min(4, CHUNKS_AHEAD + 1) }, (_, i) => i),
  );
  playing.held = false;
  playing.tell({ kind: 'seek', frame: frames - 100 });
  playing.tell({ kind: 'play', on: true });
  const [heard] = playing.hear(1);
  expect(heard.subarray(0, 100).every((x) => x !== 0)).toBe(true);
  expect(heard.subarray(100).every((x) => x === 0)).toBe(true);
  playing.hear(20);
  expect(states().at(-1)).toMatchObject({ playing: false, frame: 0 });
});

test('at rest it says where it is once and is then silent, until something is asked of it', () => {
  const playing = new Playing([sound(1), sound(2)]);
  playing.tell({ kind: 'repair', repair: leaveAsItIs(2) });
  playing.hear(100);
  expect(states()).toHaveLength(1);
  playing.tell({ kind: 'seek', frame: 5000 });
  playing.hear(100);
  expect(states().map(({ frame }) => frame)).toEqual([0, 5000]);
  playing.tell({ kind: 'play', on: true });
  playing.hear(100);
  expect(states().length).toBeGreaterThanOrEqual(12);
  playing.tell({ kind: 'play', on: false });
  said = [];
  playing.hear(100);
  // What sounded last, then that nothing does: what was told last is what is known.
  expect(states().map((state) => [state.playing, state.frame, state.reading.peaks[0] > 0])).toEqual([
    [false, 5000 + 100 * BLOCK, true],
    [false, 5000 + 100 * BLOCK, false],
  ]);
});

test('played to its end, it says that it stands at its start', () => {
  const playing = new Playing([sound(1, 4000), sound(2, 4000)]);
  playing.tell({ kind: 'repair', repair: leaveAsItIs(2) });
  playing.tell({ kind: 'play', on: true });
  playing.hear(100);
  expect(states().at(-1)).toMatchObject({ playing: false, frame: 0 });
  said = [];
  playing.hear(100);
  expect(states()).toEqual([]);
});
