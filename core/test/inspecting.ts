import { diagnose } from '../diagnose/diagnose.ts';
import { ClipMeter } from '../measure/stream/clipMeter.ts';
import type { Measurement } from '../measure/measurement.ts';
import { lookTwice } from '../measure/secondLook.ts';
import type { SoundReader } from '../measure/soundReader.ts';
import { INTERLEAVED, interleave } from '../pcm/interleave.ts';
import { Inspection } from '../schema/inspection.ts';

/** Measures planar test signals, cut into pieces of the given sizes and the rest. */
export function measure(channels: Float64Array[], sampleRate = 48000, pieces: number[] = []): Measurement {
  const meter = new ClipMeter(sampleRate, channels.length, INTERLEAVED);
  const bytes = interleave(channels, channels[0].length);
  const frameBytes = 8 * channels.length;
  let start = 0;
  for (const piece of [...pieces, channels[0].length]) {
    const end = Math.min(bytes.length, start + piece * frameBytes);
    meter.push(bytes.subarray(start, end));
    start = end;
  }
  return meter.finish();
}

export function readerOf(channels: Float64Array[]): SoundReader {
  return async (start, frames, wanted, into) =>
    wanted.map((channel, c) => {
      const sound = into?.[c].fill(0) ?? new Float64Array(frames);
      const first = Math.max(0, start);
      sound.set(channels[channel - 1].subarray(first, Math.max(first, start + frames)), first - start);
      return sound;
    });
}

/** Everything from samples to the verdict, held to the schema. */
export async function inspect(channels: Float64Array[], sampleRate = 48000): Promise<Inspection> {
  const frames = channels[0].length;
  const some = async (wanted: number[]): Promise<Measurement> =>
    measure(
      wanted.map((channel) => channels[channel - 1]),
      sampleRate,
    );
  const measurement = await lookTwice(measure(channels, sampleRate), readerOf(channels), some);
  return Inspection.parse(
    diagnose(measurement, {
      container: 'wav',
      codec: 'pcm_f64le',
      sampleRate,
      channels: channels.length,
      bitDepth: 64,
      frames,
      durationSeconds: frames / sampleRate,
      hasVideo: false,
      warning: null,
    }),
  );
}
