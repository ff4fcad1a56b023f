import { bytesPerSample } from '@pocket-twin/core/pcm/sampleFormat.ts';
import type { FrameSpan } from '@pocket-twin/core/time/spans.ts';
import type { HandoffClip } from './handoffOrder.ts';

/** A stretch of a clip's sound: its words where they lie, its start in its own time. */
export function clipWithin(clip: HandoffClip, { startFrame, endFrame }: FrameSpan): HandoffClip {
  const { pcm, facts } = clip;
  const frameBytes = pcm.channels * bytesPerSample(pcm.words);
  return {
    ...clip,
    // Those are of all of it.
    ...{ sketch: null, sums: null },
    pcm: { ...pcm, offsetBytes: pcm.offsetBytes + startFrame * frameBytes, frames: endFrame - startFrame },
    facts: { ...facts, startSamples: (facts.startSamples ?? 0) + startFrame },
  };
}
