import '../threads/fullSpeedKernels.ts';
import { lookAgain } from '@pocket-twin/core/measure/pair/lookAgain.ts';
import type { PairMatch } from '@pocket-twin/core/measure/pair/pairMatch.ts';
import type { Measurement } from '@pocket-twin/core/measure/measurement.ts';
import type { SoundReader } from '@pocket-twin/core/measure/soundReader.ts';
import { ClipMeter } from '@pocket-twin/core/measure/stream/clipMeter.ts';
import { INTERLEAVED, interleave } from '@pocket-twin/core/pcm/interleave.ts';
import type { FrameSpan } from '@pocket-twin/core/time/spans.ts';

const RUN_FRAMES = 1 << 17;

export interface MatchedTwo {
  measurement: Measurement;
  /** null where nothing sounds on one of them. */
  match: PairMatch | null;
}

/** Measures any two channels over a stretch of time, as a pair of their own, and looks at what they have in common. */
export async function matchTwo(
  read: SoundReader,
  [left, right]: [number, number],
  sampleRate: number,
  { startFrame, endFrame }: FrameSpan,
): Promise<MatchedTwo> {
  const meter = new ClipMeter(sampleRate, 2, INTERLEAVED);
  for (let at = startFrame; at < endFrame; at += RUN_FRAMES) {
    const frames = Math.min(RUN_FRAMES, endFrame - at);
    meter.push(interleave(await read(at, frames, [left, right]), frames));
  }
  const measurement = meter.finish();
  const sounding = measurement.frames > 0 && measurement.channels.every(({ peak }) => peak > 0);
  const match = sounding
    ? await lookAgain(
        measurement,
        [1, 2],
        (at, frames, channels, into) =>
          read(
            startFrame + at,
            frames,
            channels.map((channel) => (channel === 1 ? left : right)),
            into,
          ),
        { wholeBand: true },
      )
    : null;
  return { measurement, match };
}
