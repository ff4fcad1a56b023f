import { open } from 'node:fs/promises';
import { ClipMeter } from '@pocket-twin/core/measure/stream/clipMeter.ts';
import type { ClipPart } from '@pocket-twin/core/measure/stream/clipParts.ts';
import type { ClipSums } from '@pocket-twin/core/measure/stream/clipSums.ts';
import { OutlineBuilder, type JointBuckets } from '@pocket-twin/core/outline/outlineBuilder.ts';
import type { SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { OutlineWriter } from './outlineFiles.ts';
import type { Source } from './source.ts';
import { wavRuns, type WavWords } from './wavRuns.ts';

// Whoever helps starts with this file: it needs little, so that a thread is ready soon.

interface Readable {
  words: SampleFormat;
  sampleRate: number;
  channels: number;
  runs: Source['runs'];
}

/** Puts what is read of a part through the meters and into the outline. @param wasMeasured told after each run, and waited for */
export async function measurePart(
  { words, sampleRate, channels, runs }: Readable,
  part: ClipPart,
  builder: OutlineBuilder | null,
  wasMeasured: (run: Uint8Array) => Promise<void> | undefined,
): Promise<ClipSums> {
  const meter = new ClipMeter(sampleRate, channels, words, { onBuckets: builder?.push, part });
  for await (const run of runs(part, meter.inputs)) {
    meter.push(run);
    await wasMeasured(run);
  }
  return meter.finishPart();
}

/** A later part of a WAV. */
export interface LaterPart {
  path: string;
  wav: WavWords;
  part: ClipPart;
  /** Where the thread with the first part writes the outline. */
  outlinePart: string | undefined;
}

export interface MeasuredPart {
  sums: ClipSums;
  joint: JointBuckets | null;
}

/** A later part of a WAV, and of the outline that the thread with the first part has begun. */
export async function measureLaterPart({ path, wav, part, outlinePart }: LaterPart): Promise<MeasuredPart> {
  const { channels, sampleRate, format: words } = wav;
  const file = await open(path, 'r');
  const outline = outlinePart ? OutlineWriter.inside(outlinePart, part.bucketsStartFrame, channels) : null;
  const builder = outline && new OutlineBuilder(channels, outline.push, true);
  try {
    const runs: Source['runs'] = (within, buffers) => wavRuns(file.fd, wav, within, buffers);
    const sums = await measurePart({ words, sampleRate, channels, runs }, part, builder, () => outline?.drain());
    builder?.finish();
    return { sums, joint: builder?.jointBuckets() ?? null };
  } finally {
    await outline?.finishPart();
    await file.close();
  }
}
