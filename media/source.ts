import { basename } from 'node:path';
import { codecName, bytesPerSample, type SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { readWav, type WavLayout } from '@pocket-twin/core/riff/readWav.ts';
import type { ClipFormat } from '@pocket-twin/core/schema/inspection.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { identifyContainer } from './container.ts';
import { decodeToWords, probeStreams, type CodedInput, type StreamFacts } from './ffmpeg.ts';
import { FileSource } from './fileSource.ts';

/** A recording opened for reading from its first frame to its last. */
export interface Source {
  path: string;
  name: string;
  format: ClipFormat;
  /** How the words in `runs` are stored. */
  words: SampleFormat;
  /** The chunks of a WAV; null for all else. */
  wav: WavLayout | null;
  /**
   * Whole frames of interleaved words, a run at a time. A run is only valid until the next one.
   * After the last, `format.frames` and `format.warning` are what was really there.
   */
  runs(): AsyncGenerator<Uint8Array>;
  close(): Promise<void>;
}

const RUN_BYTES = 1 << 22;

/** @throws Refusal naming the file when there is nothing in it that can be read */
export async function openSource(path: string): Promise<Source> {
  const file = await FileSource.open(path);
  const name = basename(path);
  try {
    const container = await identifyContainer(file, name);
    if (container.demuxer === null) return wavSource(path, file, await readWav(file, name));
    await file.close();
    return await codedSource(path, container.name, { path, demuxer: container.demuxer });
  } catch (error) {
    await file.close().catch(() => undefined);
    throw error;
  }
}

function wavSource(path: string, file: FileSource, wav: WavLayout): Source {
  const name = basename(path);
  const { sampleRate, channels, frames, promisedFrames } = wav;
  const seconds = (count: number): string => (count / sampleRate).toFixed(1);
  const missing = promisedFrames - frames;
  if (frames === 0) throw new Refusal('damaged', `${name} holds no sound: it was cut off. Copy it from the card again.`);
  return {
    path,
    name,
    format: {
      container: 'wav',
      codec: codecName(wav.format),
      sampleRate,
      channels,
      bitDepth: wav.format.bits,
      frames,
      durationSeconds: frames / sampleRate,
      hasVideo: false,
      warning: missing > 0
        ? `${name} is cut off: ${seconds(frames)} of ${seconds(promisedFrames)} s are there. Copy it from the card again if you need the rest.`
        : null,
    },
    words: wav.format,
    wav,
    runs: () => fileRuns(file, wav),
    close: () => file.close(),
  };
}

/** Reads one run ahead, so that disk and processor work side by side. */
async function* fileRuns(file: FileSource, wav: WavLayout): AsyncGenerator<Uint8Array> {
  const frameBytes = wav.channels * bytesPerSample(wav.format);
  const runBytes = Math.max(1, Math.floor(RUN_BYTES / frameBytes)) * frameBytes;
  const end = wav.dataOffset + wav.frames * frameBytes;
  const buffers = [new Uint8Array(runBytes), new Uint8Array(runBytes)];
  const readInto = async (slot: number, offset: number): Promise<Uint8Array> => {
    const length = Math.min(runBytes, end - offset);
    const { bytesRead } = await file.handle.read(buffers[slot], 0, Math.max(0, length), offset);
    return buffers[slot].subarray(0, bytesRead - (bytesRead % frameBytes));
  };
  let slot = 0;
  let offset = wav.dataOffset;
  let pending = readInto(slot, offset);
  while (offset < end) {
    const run = await pending;
    if (run.length === 0) return;
    offset += run.length;
    slot = 1 - slot;
    pending = readInto(slot, offset);
    yield run;
  }
}

async function codedSource(path: string, container: string, input: CodedInput): Promise<Source> {
  const name = basename(path);
  const facts = await probeStreams(input);
  if (!facts || !facts.sampleRate || !facts.channels) {
    throw new Refusal('not-audio', `${name} has no sound in it that can be read. Export it as WAV.`);
  }
  const words = wordsFor(facts);
  const format: ClipFormat = {
    container,
    codec: facts.codec,
    sampleRate: facts.sampleRate,
    channels: facts.channels,
    bitDepth: isLossless(facts.codec) ? words.bits : null,
    frames: 0,
    durationSeconds: 0,
    hasVideo: facts.hasVideo,
    warning: null,
  };
  let stop = (): void => undefined;
  return {
    path,
    name,
    format,
    words,
    wav: null,
    runs: () => {
      const run = decodeToWords(input, codecName(words));
      stop = () => run.stop();
      return decodedRuns(run, name, format, facts.channels * bytesPerSample(words));
    },
    close: async () => stop(),
  };
}

async function* decodedRuns(
  run: ReturnType<typeof decodeToWords>, name: string, format: ClipFormat, frameBytes: number,
): AsyncGenerator<Uint8Array> {
  let held: Buffer = Buffer.alloc(0);
  let frames = 0;
  for await (const piece of run.output as AsyncIterable<Buffer>) {
    const bytes = held.length > 0 ? Buffer.concat([held, piece]) : piece;
    const whole = bytes.length - (bytes.length % frameBytes);
    held = bytes.subarray(whole);
    frames += whole / frameBytes;
    if (whole > 0) yield bytes.subarray(0, whole);
  }
  const complaint = await run.complaint();
  format.frames = frames;
  format.durationSeconds = frames / format.sampleRate;
  if (frames === 0) throw new Refusal('damaged', `${name} can’t be decoded: it is damaged or encrypted. Copy it again.`);
  if (complaint) format.warning = `${name} is damaged: ${format.durationSeconds.toFixed(1)} s could be read. Copy it again if you need the rest.`;
}

function isLossless(codec: string): boolean {
  return codec === 'flac' || codec === 'alac' || codec.startsWith('pcm_');
}

/** Lossless sound keeps its depth; what a lossy decoder makes is kept in float, which loses nothing more. */
function wordsFor(facts: StreamFacts): SampleFormat {
  if (!isLossless(facts.codec)) return { kind: 'float', bits: 32 };
  if (facts.sampleType.startsWith('flt')) return { kind: 'float', bits: 32 };
  if (facts.sampleType.startsWith('dbl')) return { kind: 'float', bits: 64 };
  if (facts.sampleType.startsWith('u8')) return { kind: 'integer', bits: 8 };
  if (facts.sampleType.startsWith('s16')) return { kind: 'integer', bits: 16 };
  return { kind: 'integer', bits: facts.bits > 0 && facts.bits <= 24 ? 24 : 32 };
}
