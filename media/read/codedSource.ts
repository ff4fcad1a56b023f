import { open, rm, stat } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { bytesPerSample, codecName, type SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';
import type { ClipFormat } from '@pocket-twin/core/schema/inspection.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { SOUND_CODECS } from '../ffmpeg/codecs.ts';
import { MOST_DECODED_BYTES } from '../ffmpeg/confine.ts';
import type { CodedInput } from '../ffmpeg/coded.ts';
import { decodeToFiles, decodeToPipe } from '../ffmpeg/decode.ts';
import { probeFile, type ProbedStream } from '../ffmpeg/probe.ts';
import { factsFromTags } from './factsFromTags.ts';
import { RoomKeeper } from '../disk/roomKeeper.ts';
import { ensureRate } from './sampleRates.ts';
import { makeScratch } from '../disk/scratch.ts';
import type { Source } from './source.ts';

const MOST_CHANNELS = 64;
// Speech at 32 kbit/s as 32-bit float in stereo.
const LIKELY_RATIO = 100;
/** No recorder runs longer in one file; twenty megabytes of packed silence can. */
const MOST_DECODED_HOURS = 48;

/**
 * Anything but a WAV, decoded by FFmpeg: the channels of all its audio streams, one stream after the other.
 * @param spillBeside on whose disk there is room for what is decoded; the temporary folder where it is not given
 */
export async function codedSource(
  path: string,
  container: string,
  input: CodedInput,
  spillBeside?: string,
): Promise<Source> {
  const name = basename(path);
  const probed = await probeFile(input);
  const streams = probed.audio.filter(({ sampleRate, channels }) => sampleRate > 0 && channels > 0);
  if (probed.encrypted) throw new Refusal('not-allowed', `${name} is encrypted. Export it without protection.`);
  const odd = probed.audio.find(({ codec }) => codec !== 'unknown' && !SOUND_CODECS.has(codec));
  if (odd)
    throw new Refusal(
      'not-allowed',
      `${name} holds sound of a kind (${odd.codec}) that is not read here. Export it as WAV.`,
    );
  if (streams.length === 0) {
    throw new Refusal(
      'not-audio',
      probed.hasPicture
        ? `${name} has a picture but no sound in it.`
        : `${name} has no sound in it that can be read. Export it as WAV.`,
    );
  }
  const channels = streams.reduce((sum, stream) => sum + stream.channels, 0);
  if (channels > MOST_CHANNELS)
    throw new Refusal(
      'not-allowed',
      `${name} has ${channels} channels; up to ${MOST_CHANNELS} can be read. Split it where it was recorded.`,
    );
  for (const { sampleRate } of streams) ensureRate(name, sampleRate);
  const words = streams.map(wordsFor).reduce(wider);
  // Streams at several rates are brought to the highest.
  const sampleRate = Math.max(...streams.map((stream) => stream.sampleRate));
  const format: ClipFormat = {
    container,
    codec: streams[0].codec,
    sampleRate,
    channels,
    bitDepth: streams.every(({ codec }) => isLossless(codec)) ? words.bits : null,
    frames: 0,
    // As its head says, until it is decoded.
    durationSeconds: probed.durationSeconds ?? 0,
    hasVideo: probed.hasPicture,
    warning: null,
  };
  const close: Closers = [];
  const frameBytes = channels * bytesPerSample(words);
  const mostFrames = Math.min(MOST_DECODED_HOURS * 3600 * sampleRate, Math.floor(MOST_DECODED_BYTES / frameBytes));
  // A second more, so that what is longer is seen to be.
  const mostSeconds = Math.ceil(mostFrames / sampleRate) + 1;
  const wanted = streams.map((stream) => ({
    stream: probed.audio.indexOf(stream),
    codec: codecName(words),
    sampleRate,
    mostSeconds,
  }));
  // A head can say anything; more than this a recording does not unfold to, and what does is watched as it grows.
  const likelyBytes = (await stat(path)).size * LIKELY_RATIO;
  const expectedBytes = Math.min(
    mostFrames * frameBytes,
    (probed.durationSeconds ?? 0) * sampleRate * frameBytes,
    likelyBytes,
  );
  return {
    path,
    name,
    format,
    facts: factsFromTags(probed, streams, sampleRate),
    words,
    wav: null,
    expectedBytes,
    runs: async function* () {
      const run =
        streams.length === 1
          ? pipedRuns(input, wanted[0], frameBytes, close)
          : joinedRuns(
              input,
              wanted.map((one, i) => ({ ...one, channels: streams[i].channels })),
              bytesPerSample(words),
              { spillBeside, name, expectedBytes },
              close,
            );
      let bytes = 0;
      for (let next = await run.next(); ; next = await run.next()) {
        if (next.done) {
          finish(format, name, bytes / frameBytes, next.value);
          return;
        }
        bytes += next.value.length;
        if (bytes > mostFrames * frameBytes)
          throw new Refusal(
            'too-large',
            `${name} unfolds to more than ${mostFrames < MOST_DECODED_HOURS * 3600 * sampleRate ? `${MOST_DECODED_BYTES / 1024 ** 3} GB` : `${MOST_DECODED_HOURS} hours`} of sound. Split it where it was recorded.`,
          );
        yield next.value;
      }
    },
    close: async () => {
      for (const one of close) await one();
    },
  };
}

function finish(format: ClipFormat, name: string, frames: number, complaint: string | null): void {
  format.frames = frames;
  format.durationSeconds = frames / format.sampleRate;
  if (frames === 0)
    throw new Refusal('damaged', `${name} can’t be decoded: it is damaged or encrypted. Copy it again.`);
  if (complaint)
    format.warning = `${name} is damaged: ${format.durationSeconds.toFixed(1)} s could be read. Copy it again if you need the rest.`;
}

/** Runs of interleaved words; at the end, what the decoder complained of. */
type Runs = AsyncGenerator<Uint8Array, string | null>;
type Closers = (() => void | Promise<void>)[];
type Wanted = Parameters<typeof decodeToPipe>[1];

async function* pipedRuns(input: CodedInput, wanted: Wanted, frameBytes: number, close: Closers): Runs {
  const run = decodeToPipe(input, wanted);
  close.push(() => run.stop());
  let held: Buffer = Buffer.alloc(0);
  for await (const piece of run.pieces()) {
    const bytes = held.length > 0 ? Buffer.concat([held, piece]) : piece;
    const whole = bytes.length - (bytes.length % frameBytes);
    held = bytes.subarray(whole);
    if (whole > 0) yield bytes.subarray(0, whole);
  }
  return run.complaint();
}

const RUN_FRAMES = 32768;

/** Streams decoded to files of their own and put side by side; where one ends before the others there is silence. */
async function* joinedRuns(
  input: CodedInput,
  wanted: (Wanted & { channels: number })[],
  wordBytes: number,
  { spillBeside, name, expectedBytes }: { spillBeside: string | undefined; name: string; expectedBytes: number },
  close: Closers,
): Runs {
  const folder = await makeScratch(spillBeside);
  close.push(() => rm(folder, { recursive: true, force: true }));
  const parts = wanted.map((one, i) => ({ ...one, path: join(folder, `${i}.pcm`) }));
  const room = new RoomKeeper(folder, name);
  await room.ensure(expectedBytes);
  const decoding = await decodeToFiles(input, folder, parts);
  close.push(() => decoding.stop());
  // Twice a second it says how far it is.
  for await (const told of decoding.pieces()) if (told.length > 0) await room.look();
  const complaint = await decoding.complaint();
  const handles = await Promise.all(parts.map(({ path }) => open(path, 'r')));
  close.unshift(async () => {
    for (const handle of handles) await handle.close();
  });
  const frameBytes = parts.reduce((sum, part) => sum + part.channels, 0) * wordBytes;
  const run = new Uint8Array(RUN_FRAMES * frameBytes);
  for (let start = 0; ; start += RUN_FRAMES) {
    run.fill(0);
    let frames = 0;
    let offset = 0;
    for (const [i, part] of parts.entries()) {
      const partBytes = part.channels * wordBytes;
      const words = new Uint8Array(RUN_FRAMES * partBytes);
      const { bytesRead } = await handles[i].read(words, 0, words.length, start * partBytes);
      const count = Math.floor(bytesRead / partBytes);
      placeFrames(words, partBytes, count, run, offset, frameBytes);
      frames = Math.max(frames, count);
      offset += partBytes;
    }
    if (frames === 0) return complaint;
    yield run.subarray(0, frames * frameBytes);
  }
}

/** Copies narrow frames into wide ones, `offset` bytes into each. */
function placeFrames(
  narrow: Uint8Array,
  narrowBytes: number,
  frames: number,
  wide: Uint8Array,
  offset: number,
  wideBytes: number,
): void {
  for (let n = 0; n < frames; n++) {
    for (let b = 0; b < narrowBytes; b++) wide[n * wideBytes + offset + b] = narrow[n * narrowBytes + b];
  }
}

function isLossless(codec: string): boolean {
  return codec === 'flac' || codec === 'alac' || codec.startsWith('pcm_');
}

/** Lossless sound keeps its depth; what a lossy decoder makes is kept in float, which loses nothing more. */
function wordsFor(stream: ProbedStream): SampleFormat {
  if (!isLossless(stream.codec)) return { kind: 'float', bits: 32 };
  if (stream.sampleType.startsWith('flt')) return { kind: 'float', bits: 32 };
  if (stream.sampleType.startsWith('dbl')) return { kind: 'float', bits: 64 };
  if (stream.sampleType.startsWith('u8')) return { kind: 'integer', bits: 8 };
  if (stream.sampleType.startsWith('s16')) return { kind: 'integer', bits: 16 };
  return { kind: 'integer', bits: stream.bits > 0 && stream.bits <= 24 ? 24 : 32 };
}

/** Words that hold what both do; 32-bit integers do not fit into 32-bit float. */
function wider(a: SampleFormat, b: SampleFormat): SampleFormat {
  if (a.kind === b.kind) return a.bits >= b.bits ? a : b;
  const [float, integer] = a.kind === 'float' ? [a, b] : [b, a];
  return integer.bits === 32 ? { kind: 'float', bits: 64 } : float;
}
