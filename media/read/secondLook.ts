import { diagnose } from '@pocket-twin/core/diagnose/diagnose.ts';
import { WordMover } from '@pocket-twin/core/kernels/wordMover.ts';
import type { Measurement } from '@pocket-twin/core/measure/measurement.ts';
import { lookTwice } from '@pocket-twin/core/measure/secondLook.ts';
import { ClipMeter } from '@pocket-twin/core/measure/stream/clipMeter.ts';
import { measurementOf, type ClipSums } from '@pocket-twin/core/measure/stream/clipSums.ts';
import { bytesPerSample } from '@pocket-twin/core/pcm/sampleFormat.ts';
import type { ClipFormat, Inspection } from '@pocket-twin/core/schema/inspection.ts';
import type { MeasuringHelper } from '../threads/measuringHelper.ts';
import type { PcmFile } from './pcmFile.ts';
import { soundReader } from './soundReader.ts';

// Loaded when it is wanted: it is most of what an inspection needs, and the first look needs none of it.

interface SecondLookOptions {
  /** Where the channels lie in the sound, from 0; as they are without it. */
  inputs?: readonly number[];
  /** Looks at the channels by themselves while this thread looks at the pairs. */
  helper?: MeasuringHelper | null;
}

/** From what the first look added up to an inspection, with a look at single stretches. */
export async function secondLook(
  sums: ClipSums,
  sound: PcmFile,
  format: ClipFormat,
  { inputs, helper }: SecondLookOptions,
): Promise<Inspection> {
  const read = soundReader(sound);
  const placed = (channels: number[]): number[] =>
    inputs ? channels.map((channel) => inputs[channel - 1] + 1) : channels;
  const measurement = await lookTwice(
    measurementOf(sums),
    (startFrame, frames, channels, into) => read(startFrame, frames, placed(channels), into),
    (channels) => measureChannels(sound, placed(channels)),
    // Where it cannot, this thread does.
    helper ? (clip) => helper.lookAtChannels({ pcm: sound.location, clip }).catch(() => null) : undefined,
  );
  return diagnose(measurement, format);
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
