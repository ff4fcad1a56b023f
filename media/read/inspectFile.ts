import '../threads/fullSpeedKernels.ts';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { diagnose } from '@pocket-twin/core/diagnose/diagnose.ts';
import { WordMover } from '@pocket-twin/core/kernels/wordMover.ts';
import { ClipMeter } from '@pocket-twin/core/measure/stream/clipMeter.ts';
import { cutAway, wholeClip } from '@pocket-twin/core/measure/stream/clipParts.ts';
import { joinSums, measurementOf, type ClipSums } from '@pocket-twin/core/measure/stream/clipSums.ts';
import { movedSums } from '@pocket-twin/core/measure/stream/movedSums.ts';
import type { Measurement } from '@pocket-twin/core/measure/measurement.ts';
import { lookTwice } from '@pocket-twin/core/measure/secondLook.ts';
import { bucketFrames, JOINT_LEVEL } from '@pocket-twin/core/outline/outline.ts';
import { OutlineBuilder } from '@pocket-twin/core/outline/outlineBuilder.ts';
import { bytesPerSample } from '@pocket-twin/core/pcm/sampleFormat.ts';
import type { Progress } from '@pocket-twin/core/contract/events.ts';
import type { ClipFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import type { ClipFormat, Inspection } from '@pocket-twin/core/schema/inspection.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { diskTrouble } from '../disk/diskTrouble.ts';
import { measurePart, type MeasuredPart } from './measurePart.ts';
import { OutlineWriter } from './outlineFiles.ts';
import { PcmFile } from './pcmFile.ts';
import { soundReader } from './soundReader.ts';
import { RoomKeeper } from '../disk/roomKeeper.ts';
import { makeScratch } from '../disk/scratch.ts';
import { openSource } from './openSource.ts';
import type { Source } from './source.ts';
import { MeasuringHelper } from '../threads/measuringHelper.ts';
import type { WavWords } from './wavRuns.ts';
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
    const sums = await measureWhole(source, { outline, copy, room, onProgress: options.onProgress });
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
// What is not worth being given away any more.
const LEAST_LEFT_CHANNEL_SECONDS = 120;

interface Destinations {
  outline: OutlineWriter | null;
  copy: WholeFile | null;
  room: RoomKeeper | null;
  onProgress?: (progress: Progress) => void;
}

/** A long WAV is measured by two threads: the other takes some of what is left whenever it has nothing to do. All else is measured by one. */
async function measureWhole(source: Source, { outline, copy, room, onProgress }: Destinations): Promise<ClipSums> {
  const { frames, sampleRate, channels, durationSeconds } = source.format;
  const isLong = source.wav !== null && durationSeconds * channels >= LONG_CHANNEL_SECONDS;
  const helper = isLong ? new MeasuringHelper() : null;
  const builder = outline && new OutlineBuilder(channels, outline.push);
  const frameBytes = channels * bytesPerSample(source.words);
  const part = wholeClip(isLong ? frames : Infinity);
  let doneFrames = 0;
  const mine = measurePart({ ...source, sampleRate, channels }, part, builder, async (run) => {
    await outline?.drain();
    await copy?.write(run, doneFrames * frameBytes);
    await room?.wrote(run.length);
    doneFrames += run.length / frameBytes;
    const expected = Math.min(source.format.frames, part.endFrame);
    if (expected > 0) onProgress?.({ stage: 'measuring', share: Math.min(1, doneFrames / expected) });
  });
  // From the end of the clip on.
  const later: MeasuredPart[] = [];
  let isHelping = false;
  const help = async (by: MeasuringHelper, path: string, wav: WavWords): Promise<void> => {
    await by.ready;
    while (((part.endFrame - doneFrames) * channels) / sampleRate >= LEAST_LEFT_CHANNEL_SECONDS) {
      const given = cutAway(part, doneFrames, sampleRate, bucketFrames(JOINT_LEVEL));
      if (given === null) return;
      isHelping = true;
      later.unshift(await by.measure({ path, wav, part: given, outlinePart: outline?.partFolder }));
      isHelping = false;
    }
  };
  const helped = helper && source.wav && help(helper, source.path, source.wav);
  // How it went is asked once this thread is done.
  helped?.catch(() => undefined);
  try {
    // Nobody waits for a thread that was ready too late.
    let sums = await mine;
    if (isHelping) await helped;
    for (const { sums: more, joint } of later) {
      sums = joinSums(sums, more);
      if (joint) builder?.continueWith(joint);
    }
    builder?.finish();
    return sums;
  } finally {
    // It is not left running when this thread has failed; nobody waits for its end.
    helper?.end();
  }
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
