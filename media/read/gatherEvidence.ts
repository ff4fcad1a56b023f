import { evidenceOf } from '@pocket-twin/core/measure/pair/evidence.ts';
import type { Evidence, EvidenceWanted } from '@pocket-twin/core/schema/evidence.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import { secondsOfFrames } from '@pocket-twin/core/time/spans.ts';
import { matchTwo } from './matchTwo.ts';
import { PcmFile } from './pcmFile.ts';
import { soundReader } from './soundReader.ts';

/** What there is to see about any two channels of a clip, over all of it or a stretch of time. */
export async function gatherEvidence(location: PcmLocation, wanted: EvidenceWanted): Promise<Evidence> {
  const { sampleRate, frames: all } = location;
  const { left, right } = wanted;
  const startFrame = Math.min(all, Math.round((wanted.startSeconds ?? 0) * sampleRate));
  const endFrame = Math.min(all, wanted.endSeconds === undefined ? all : Math.round(wanted.endSeconds * sampleRate));
  const file = await PcmFile.open(location);
  try {
    const span = { startFrame, endFrame };
    const { measurement, match } = await matchTwo(soundReader(file), [left, right], sampleRate, span);
    return {
      ...evidenceOf(measurement, [1, 2], match, secondsOfFrames(span, sampleRate)),
      channels: [left, right],
    };
  } finally {
    await file.close();
  }
}
