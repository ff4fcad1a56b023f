import { lineUpOf } from '@pocket-twin/core/repair/propose/lineUp.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import type { LineUp } from '@pocket-twin/core/schema/proposal.ts';
import type { FrameSpan } from '@pocket-twin/core/time/spans.ts';
import { matchTwo } from './matchTwo.ts';
import { PcmFile } from './pcmFile.ts';
import { soundReader } from './soundReader.ts';

/** How much later one channel of a clip is than another, over a stretch of it; null where they have no sound in common there. */
export async function measureLineUp(wanted: {
  source: PcmLocation;
  channels: [number, number];
  span: FrameSpan;
}): Promise<LineUp | null> {
  const file = await PcmFile.open(wanted.source);
  try {
    const { sampleRate } = wanted.source;
    const { match } = await matchTwo(soundReader(file), wanted.channels, sampleRate, wanted.span);
    return lineUpOf(match, sampleRate, wanted.span.startFrame);
  } finally {
    await file.close();
  }
}
