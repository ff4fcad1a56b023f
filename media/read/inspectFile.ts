import '../threads/fullSpeedKernels.ts';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { cutAway, wholeClip } from '@pocket-twin/core/measure/stream/clipParts.ts';
import { joinSums, type ClipSums } from '@pocket-twin/core/measure/stream/clipSums.ts';
import { movedSums } from '@pocket-twin/core/measure/stream/movedSums.ts';
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
  const helper = isLong(source) ? new MeasuringHelper() : null;
  // Read while the first look goes on, and beside a helper that starts.
  const looking = import('./secondLook.ts');
  try {
    await room?.ensure(source.expectedBytes);
    const sums = await measureWhole(source, helper, { outline, copy, room, onProgress: options.onProgress });
    await outline?.finish(source.format.frames, source.format.channels);
    await copy?.finish(true);
    options.onProgress?.({ stage: 'looking again', share: 0 });
    const pcm = locate(source, copyPath ?? path);
    const sound = await PcmFile.open(pcm);
    try {
      const { secondLook } = await looking;
      const inspection = await secondLook(sums, sound, source.format, { helper });
      return { inspection, facts: source.facts, pcm: scratch ? null : pcm, sums };
    } finally {
      await sound.close();
    }
  } catch (error) {
    // It may be writing there.
    helper?.end();
    await outline?.discard();
    await copy?.discard();
    // What is named is what the person knows: the recording, not our copy of it.
    if (error instanceof Refusal && error.code === 'no-room')
      throw error.message.includes(source.name) ? error : diskTrouble({ code: 'ENOSPC' }, source.name);
    const trouble = diskTrouble(error, source.name);
    if (trouble) throw trouble;
    throw error;
  } finally {
    // Nobody waits for its end.
    helper?.end();
    await source.close();
    if (scratch) await rm(scratch, { recursive: true, force: true });
  }
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
  const { secondLook } = await import('./secondLook.ts');
  const sound = await PcmFile.open(clip);
  return secondLook(moved, sound, format, { inputs }).finally(() => sound.close());
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

function isLong({ wav, format: { durationSeconds, channels } }: Source): boolean {
  return wav !== null && durationSeconds * channels >= LONG_CHANNEL_SECONDS;
}

/** @param helper takes some of what is left whenever it has nothing to do */
async function measureWhole(
  source: Source,
  helper: MeasuringHelper | null,
  { outline, copy, room, onProgress }: Destinations,
): Promise<ClipSums> {
  const { frames, sampleRate, channels } = source.format;
  const builder = outline && new OutlineBuilder(channels, outline.push);
  const frameBytes = channels * bytesPerSample(source.words);
  const part = wholeClip(helper ? frames : Infinity);
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
  // Nobody waits for a thread that was ready too late.
  let sums = await mine;
  if (isHelping) await helped;
  for (const { sums: more, joint } of later) {
    sums = joinSums(sums, more);
    if (joint) builder?.continueWith(joint);
  }
  builder?.finish();
  return sums;
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
