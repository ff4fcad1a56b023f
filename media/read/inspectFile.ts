import '../threads/fullSpeedKernels.ts';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { diagnose } from '@pocket-twin/core/diagnose/diagnose.ts';
import { WordMover } from '@pocket-twin/core/kernels/wordMover.ts';
import { ClipMeter } from '@pocket-twin/core/measure/stream/clipMeter.ts';
import { cutAway, wholeClip, type ClipPart } from '@pocket-twin/core/measure/stream/clipParts.ts';
import { joinSums, measurementOf, type ClipSums } from '@pocket-twin/core/measure/stream/clipSums.ts';
import { movedSums } from '@pocket-twin/core/measure/stream/movedSums.ts';
import type { Measurement } from '@pocket-twin/core/measure/measurement.ts';
import { lookTwice } from '@pocket-twin/core/measure/secondLook.ts';
import { bucketFrames, JOINT_LEVEL } from '@pocket-twin/core/outline/outline.ts';
import { OutlineBuilder, type JointBuckets } from '@pocket-twin/core/outline/outlineBuilder.ts';
import { bytesPerSample } from '@pocket-twin/core/pcm/sampleFormat.ts';
import type { Progress } from '@pocket-twin/core/contract/events.ts';
import type { ClipFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import type { ClipFormat, Inspection } from '@pocket-twin/core/schema/inspection.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { diskTrouble } from '../disk/diskTrouble.ts';
import { OutlineWriter } from './outlineFiles.ts';
import { PcmFile } from './pcmFile.ts';
import { soundReader } from './soundReader.ts';
import { RoomKeeper } from '../disk/roomKeeper.ts';
import { makeScratch } from '../disk/scratch.ts';
import { openSource } from './openSource.ts';
import type { Source } from './source.ts';
import { runInThread } from '../threads/pool.ts';
import { WholeFile } from '../disk/wholeFile.ts';

export interface InspectOptions {
  /** Where the outline goes; none is made without it. */
  outlineFolder?: string;
  /** Where the decoded words of anything but a WAV go; none are kept without it. */
  workingCopy?: string;
  /** How far measuring is, where the length is known; then that stretches are looked at again. */
  onProgress?: (progress: Progress) => void;
}

export interface Inspected {
  inspection: Inspection;
  facts: ClipFacts;
  /** null where the file had to be decoded and no working copy was asked for. */
  pcm: PcmLocation | null;
  /** What its first look added up. */
  sums: ClipSums;
}

/**
 * Reads a file once: meters, pair sums, outline and working copy together; then looks again at a bounded
 * number of stretches, in the file itself or in its working copy.
 * @throws Refusal naming the file when it cannot be read
 */
export async function inspectFile(path: string, options: InspectOptions = {}): Promise<Inspected> {
  const source = await openSource(path, options.workingCopy);
  const scratch = source.wav || options.workingCopy ? null : await makeScratch();
  const copyPath = source.wav ? null : (options.workingCopy ?? join(scratch!, 'decoded.pcm'));
  const outline = options.outlineFolder ? await OutlineWriter.create(options.outlineFolder) : null;
  const copy = copyPath === null ? null : await WholeFile.create(copyPath);
  const room = copyPath === null ? null : new RoomKeeper(copyPath, source.name);
  try {
    await room?.ensure(source.expectedBytes);
    const sums = await measureWhole(path, source, { outline, copy, room, onProgress: options.onProgress });
    await outline?.finish(source.format.frames, source.format.channels);
    await copy?.finish(true);
    options.onProgress?.({ stage: 'looking again', share: 0 });
    const pcm = locate(source, copyPath ?? path);
    const sound = await PcmFile.open(pcm);
    try {
      const inspection = await secondLook(sums, sound, source.format);
      return { inspection, facts: source.facts, pcm: scratch ? null : pcm, sums };
    } finally {
      await sound.close();
    }
  } catch (error) {
    await outline?.discard();
    await copy?.discard();
    // What is named is what the person knows: the recording, not our copy of it.
    if (error instanceof Refusal && error.code === 'no-room')
      throw error.message.includes(source.name) ? error : diskTrouble({ code: 'ENOSPC' }, source.name);
    const trouble = diskTrouble(error, source.name);
    if (trouble) throw trouble;
    throw error;
  } finally {
    await source.close();
    if (scratch) await rm(scratch, { recursive: true, force: true });
  }
}

/** From what the first look added up to an inspection, with a look at single stretches. @param inputs where the channels lie in the sound, from 0 */
async function secondLook(
  sums: ClipSums,
  sound: PcmFile,
  format: ClipFormat,
  inputs: readonly number[] | null = null,
): Promise<Inspection> {
  const read = soundReader(sound);
  const placed = (channels: number[]): number[] =>
    inputs ? channels.map((channel) => inputs[channel - 1] + 1) : channels;
  const measurement = await lookTwice(
    measurementOf(sums),
    (startFrame, frames, channels) => read(startFrame, frames, placed(channels)),
    (channels) => measureChannels(sound, placed(channels)),
  );
  return diagnose(measurement, format);
}

/**
 * A file whose channels are those of a clip that was measured, moved and nothing else, word by word: its numbers follow, to the digit, and only single
 * stretches of the clip are looked at. @param inputs the clip's channels, from 0, that the file's are @param format of the file
 * @returns null where they do not follow
 */
export async function inspectMoved(
  clip: PcmLocation,
  sums: ClipSums,
  inputs: readonly number[],
  format: ClipFormat,
): Promise<Inspection | null> {
  const moved = movedSums(sums, inputs);
  if (moved === null) return null;
  const sound = await PcmFile.open(clip);
  return secondLook(moved, sound, format, inputs).finally(() => sound.close());
}

// Seconds of sound in one channel for which a second thread is worth its start. Many short clips are measured side by side instead.
const LONG_CHANNEL_SECONDS = 1200;
// What is not worth being given away any more once that thread is ready.
const LEAST_LEFT_CHANNEL_SECONDS = 300;

interface Destinations {
  outline: OutlineWriter | null;
  copy: WholeFile | null;
  room: RoomKeeper | null;
  onProgress?: (progress: Progress) => void;
}

interface MeasuredPart {
  sums: ClipSums;
  joint: JointBuckets | null;
}

/** A long WAV is read by two threads at once: the other takes half of what is left when it is ready to begin. All else is read by one. */
async function measureWhole(path: string, source: Source, destinations: Destinations): Promise<ClipSums> {
  const { frames, sampleRate, channels, durationSeconds } = source.format;
  const builder = destinations.outline && new OutlineBuilder(channels, destinations.outline.push);
  const part = wholeClip();
  const done = { frames: 0 };
  const mine = measurePart(source, part, builder, destinations, done);
  if (!source.wav || durationSeconds * channels < LONG_CHANNEL_SECONDS) {
    const sums = await mine;
    builder?.finish();
    return sums;
  }
  const theirs = runInThread('ready', null).then((): Promise<MeasuredPart> | null => {
    if (((frames - done.frames) * channels) / sampleRate < LEAST_LEFT_CHANNEL_SECONDS) return null;
    const later = cutAway(part, done.frames, frames, sampleRate, bucketFrames(JOINT_LEVEL));
    if (later === null) return null;
    const order: LaterPart = { path, part: later, outlinePart: destinations.outline?.partFolder };
    return runInThread('measurePart', order) as Promise<MeasuredPart>;
  });
  // How it went is asked once this part is done.
  const settled = theirs.catch(() => undefined);
  const sums = await mine.catch(async (error: unknown) => {
    // Neither is left running when the other has failed.
    await settled;
    throw error;
  });
  // Nobody waits for a thread that was ready too late.
  const later = part.endsClip ? null : await theirs;
  if (later?.joint) builder?.continueWith(later.joint);
  builder?.finish();
  return later ? joinSums(sums, later.sums) : sums;
}

interface LaterPart {
  path: string;
  part: ClipPart;
  outlinePart?: string;
}

/** The later part of a WAV, and of the outline that the thread with the first part has begun. */
export async function measureLaterPart({ path, part, outlinePart }: LaterPart): Promise<MeasuredPart> {
  const source = await openSource(path);
  const { channels } = source.format;
  const outline = outlinePart ? OutlineWriter.inside(outlinePart, part.bucketsStartFrame, channels) : null;
  const builder = outline && new OutlineBuilder(channels, outline.push, true);
  try {
    const sums = await measurePart(source, part, builder, { outline, copy: null, room: null });
    builder?.finish();
    return { sums, joint: builder?.jointBuckets() ?? null };
  } finally {
    await outline?.finishPart();
    await source.close();
  }
}

async function measurePart(
  source: Source,
  part: ClipPart,
  builder: OutlineBuilder | null,
  { outline, copy, room, onProgress }: Destinations,
  done = { frames: 0 },
): Promise<ClipSums> {
  const { channels, sampleRate, frames } = source.format;
  const frameBytes = channels * bytesPerSample(source.words);
  const expected = (): number => Math.min(frames, part.endFrame);
  const meter = new ClipMeter(sampleRate, channels, source.words, { onBuckets: builder?.push, part });
  for await (const run of source.runs(part, meter.inputs)) {
    meter.push(run);
    await outline?.drain();
    await copy?.write(run, done.frames * frameBytes);
    await room?.wrote(run.length);
    done.frames += run.length / frameBytes;
    if (expected() > 0) onProgress?.({ stage: 'measuring', share: Math.min(1, done.frames / expected()) });
  }
  return meter.finishPart();
}

const RUN_FRAMES = 32768;

/** Some channels (from 1) of a clip, measured by themselves. */
async function measureChannels(sound: PcmFile, channels: number[]): Promise<Measurement> {
  const { words, channels: width, sampleRate, frames } = sound.location;
  const wordBytes = bytesPerSample(words);
  const mover = new WordMover(wordBytes, width, [channels.map((channel) => channel - 1)], RUN_FRAMES, 1);
  const meter = new ClipMeter(sampleRate, channels.length, words);
  for (let start = 0; start < frames; start += RUN_FRAMES) {
    const count = await sound.read(start, RUN_FRAMES, mover.inputs[0]);
    mover.move(0, count);
    meter.push(mover.outputs[0][0].subarray(0, count * channels.length * wordBytes));
  }
  return meter.finish();
}

/** Where the words of a WAV lie. */
export async function wavLocation(path: string): Promise<PcmLocation> {
  const source = await openSource(path);
  await source.close();
  return locate(source, path);
}

function locate(source: Source, path: string): PcmLocation {
  const { channels, sampleRate, frames } = source.format;
  return { path, offsetBytes: source.wav?.dataOffset ?? 0, words: source.words, channels, sampleRate, frames };
}

/** What the head of a WAV says. */
export async function wavFormat(path: string): Promise<ClipFormat> {
  const source = await openSource(path);
  await source.close();
  return source.format;
}
