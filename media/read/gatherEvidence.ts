import { secondsOfFrames } from '@pocket-twin/core/time/spans.ts';
import '../threads/fullSpeedKernels.ts';
import { ClipMeter } from '@pocket-twin/core/measure/stream/clipMeter.ts';
import { evidenceOf } from '@pocket-twin/core/measure/pair/evidence.ts';
import { lookAgain } from '@pocket-twin/core/measure/pair/lookAgain.ts';
import { INTERLEAVED, interleave } from '@pocket-twin/core/pcm/interleave.ts';
import type { Evidence, EvidenceWanted } from '@pocket-twin/core/schema/evidence.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import { PcmFile } from './pcmFile.ts';
import { soundReader } from './soundReader.ts';

const RUN_FRAMES = 1 << 17;

/** What there is to see about any two channels of a clip, over all of it or a stretch of time. */
export async function gatherEvidence(location: PcmLocation, wanted: EvidenceWanted): Promise<Evidence> {
  const { sampleRate, frames: all } = location;
  const start = Math.min(all, Math.round((wanted.startSeconds ?? 0) * sampleRate));
  const end = Math.min(all, wanted.endSeconds === undefined ? all : Math.round(wanted.endSeconds * sampleRate));
  const file = await PcmFile.open(location);
  try {
    const read = soundReader(file);
    const meter = new ClipMeter(sampleRate, 2, INTERLEAVED);
    for (let at = start; at < end; at += RUN_FRAMES) {
      const frames = Math.min(RUN_FRAMES, end - at);
      meter.push(interleave(await read(at, frames, [wanted.left, wanted.right]), frames));
    }
    const measurement = meter.finish();
    const sounding = measurement.frames > 0 && measurement.channels.every(({ peak }) => peak > 0);
    const match = sounding
      ? await lookAgain(measurement, [1, 2], (at, frames, channels) =>
          read(
            start + at,
            frames,
            channels.map((channel) => (channel === 1 ? wanted.left : wanted.right)),
          ),
        )
      : null;
    return {
      ...evidenceOf(measurement, [1, 2], match, secondsOfFrames({ startFrame: start, endFrame: end }, sampleRate)),
      channels: [wanted.left, wanted.right],
    };
  } finally {
    await file.close();
  }
}
