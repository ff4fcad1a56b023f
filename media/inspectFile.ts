import { diagnose } from '@pocket-twin/core/diagnose/diagnose.ts';
import { ClipMeter } from '@pocket-twin/core/measure/clipMeter.ts';
import { OutlineBuilder } from '@pocket-twin/core/outline/outlineBuilder.ts';
import { decodeWords } from '@pocket-twin/core/pcm/decodeWords.ts';
import { bytesPerSample, largestValue } from '@pocket-twin/core/pcm/sampleFormat.ts';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import { OutlineWriter } from './outlineFiles.ts';
import { openSource, type Source } from './source.ts';
import { WholeFile } from './wholeFile.ts';

export interface InspectOptions {
  /** Where the outline goes; none is made without it. */
  outlineFolder?: string;
  /** Where the decoded words of anything but a WAV go; none are kept without it. */
  workingCopy?: string;
  /** 0..1, where the length is known. */
  onProgress?: (share: number) => void;
}

export interface Inspected {
  inspection: Inspection;
  /** null where the file had to be decoded and no working copy was asked for. */
  pcm: PcmLocation | null;
}

/**
 * Reads a file once: meters, pair sums, outline and working copy together.
 * @throws Refusal naming the file when it cannot be read
 */
export async function inspectFile(path: string, options: InspectOptions = {}): Promise<Inspected> {
  const source = await openSource(path);
  const outline = options.outlineFolder ? await OutlineWriter.create(options.outlineFolder) : null;
  const copy = options.workingCopy && !source.wav ? await WholeFile.create(options.workingCopy) : null;
  try {
    const meter = await measure(source, outline, copy, options.onProgress);
    await outline?.finish(source.format.frames, source.format.channels);
    await copy?.finish(true);
    return {
      inspection: diagnose(meter.finish(), source.format),
      pcm: source.wav || copy ? locate(source, copy ? options.workingCopy! : path) : null,
    };
  } catch (error) {
    await outline?.discard();
    await copy?.discard();
    throw error;
  } finally {
    await source.close();
  }
}

async function measure(
  source: Source, outline: OutlineWriter | null, copy: WholeFile | null, onProgress: InspectOptions['onProgress'],
): Promise<ClipMeter> {
  const { channels, sampleRate, frames: expected } = source.format;
  const frameBytes = channels * bytesPerSample(source.words);
  const meter = new ClipMeter(sampleRate, channels, largestValue(source.words));
  const builder = outline && new OutlineBuilder(channels, (level, values) => outline.push(level, values));
  let planar: Float64Array[] = [];
  let done = 0;
  for await (const run of source.runs()) {
    const frames = run.length / frameBytes;
    if (planar.length === 0 || planar[0].length < frames) planar = Array.from({ length: channels }, () => new Float64Array(frames));
    decodeWords(run, source.words, planar, frames);
    meter.push(planar, frames);
    builder?.push(planar, frames);
    await outline?.drain();
    await copy?.write(run, done * frameBytes);
    done += frames;
    if (expected > 0) onProgress?.(done / expected);
  }
  builder?.finish();
  return meter;
}

function locate(source: Source, path: string): PcmLocation {
  const { channels, sampleRate, frames } = source.format;
  return { path, offsetBytes: source.wav?.dataOffset ?? 0, words: source.words, channels, sampleRate, frames };
}
