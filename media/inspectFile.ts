import './fullSpeedKernels.ts';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { diagnose } from '@pocket-twin/core/diagnose/diagnose.ts';
import type { MeterPart } from '@pocket-twin/core/kernels/blockMeter.ts';
import { WordMover } from '@pocket-twin/core/kernels/wordMover.ts';
import { ClipMeter, joinParts } from '@pocket-twin/core/measure/clipMeter.ts';
import type { Measurement } from '@pocket-twin/core/measure/measurement.ts';
import { lookTwice } from '@pocket-twin/core/measure/secondLook.ts';
import { OutlineBuilder } from '@pocket-twin/core/outline/outlineBuilder.ts';
import { bytesPerSample } from '@pocket-twin/core/pcm/sampleFormat.ts';
import type { Progress } from '@pocket-twin/core/schema/changes.ts';
import type { ClipFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { OutlineWriter } from './outlineFiles.ts';
import { PcmFile } from './pcmFile.ts';
import { soundReader } from './soundReader.ts';
import { openSource, type Source } from './source.ts';
import { inThread } from './threads/inThread.ts';
import { WholeFile } from './wholeFile.ts';

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
}

/**
 * Reads a file once: meters, pair sums, outline and working copy together; then looks again at a bounded
 * number of stretches, in the file itself or in its working copy.
 * @throws Refusal naming the file when it cannot be read
 */
export async function inspectFile(path: string, options: InspectOptions = {}): Promise<Inspected> {
  const source = await openSource(path);
  const scratch = source.wav || options.workingCopy ? null : await mkdtemp(join(tmpdir(), 'pocket-twin-'));
  const copyPath = source.wav ? null : options.workingCopy ?? join(scratch!, 'decoded.pcm');
  const outline = options.outlineFolder ? await OutlineWriter.create(options.outlineFolder) : null;
  const copy = copyPath === null ? null : await WholeFile.create(copyPath);
  try {
    const firstLook = await measureOnBothProcessors(path, source, outline, copy, options.onProgress);
    await outline?.finish(source.format.frames, source.format.channels);
    await copy?.finish(true);
    options.onProgress?.({ stage: 'looking again', share: 0 });
    const pcm = locate(source, copyPath ?? path);
    const sound = await PcmFile.open(pcm);
    try {
      const measurement = await lookTwice(firstLook, soundReader(sound), (channels) => measureChannels(sound, channels));
      return { inspection: diagnose(measurement, source.format), facts: source.facts, pcm: scratch ? null : pcm };
    } finally {
      await sound.close();
    }
  } catch (error) {
    await outline?.discard();
    await copy?.discard();
    // What is named is what the person knows: the recording, not our copy of it.
    const full = error instanceof Refusal ? error.code === 'no-room' : (error as NodeJS.ErrnoException).code === 'ENOSPC';
    if (full) throw new Refusal('no-room', `There is no room on the disk to bring in ${source.name}. Free some and measure it again.`);
    throw error;
  } finally {
    await source.close();
    if (scratch) await rm(scratch, { recursive: true, force: true });
  }
}

// Where a second thread's start is worth it. Many short clips are measured side by side instead.
const LONG_SECONDS = 300;

type MeasureArguments = [source: Source, outline: OutlineWriter | null, copy: WholeFile | null, onProgress: InspectOptions['onProgress']];

/** A long WAV is read by two threads at once, one of them for loudness and true peak alone; all else by one. */
async function measureOnBothProcessors(path: string, ...rest: MeasureArguments): Promise<Measurement> {
  const [source] = rest;
  if (!source.wav || source.format.durationSeconds < LONG_SECONDS) return measure(...rest, 'both');
  const [most, delivery] = await Promise.all([measure(...rest, 'rest'), inThread('delivery', { path })]);
  return joinParts(most, delivery);
}

/** The meters of loudness and true peak alone. */
export async function measureForDelivery(path: string): Promise<Measurement> {
  const source = await openSource(path);
  try {
    return await measure(source, null, null, undefined, 'delivery');
  } finally {
    await source.close();
  }
}

async function measure(
  source: Source, outline: OutlineWriter | null, copy: WholeFile | null, onProgress: InspectOptions['onProgress'],
  part: MeterPart,
): Promise<Measurement> {
  const { channels, sampleRate, frames: expected } = source.format;
  const frameBytes = channels * bytesPerSample(source.words);
  const builder = outline && new OutlineBuilder(channels, (level, values) => outline.push(level, values));
  const meter = new ClipMeter(sampleRate, channels, source.words, builder?.push, part);
  let done = 0;
  for await (const run of source.runs()) {
    meter.push(run);
    await outline?.drain();
    await copy?.write(run, done * frameBytes);
    done += run.length / frameBytes;
    if (expected > 0) onProgress?.({ stage: 'measuring', share: Math.min(1, done / expected) });
  }
  const finished = meter.finish();
  builder?.finish();
  return finished;
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

function locate(source: Source, path: string): PcmLocation {
  const { channels, sampleRate, frames } = source.format;
  return { path, offsetBytes: source.wav?.dataOffset ?? 0, words: source.words, channels, sampleRate, frames };
}
