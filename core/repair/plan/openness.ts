import type { Microphone, Turns } from '../../schema/repair.ts';
import type { FrameSpan } from '../../time/spans.ts';
import { merged } from './timeline.ts';

/** When a microphone is fully open: its turns with their lead and tail, those that touch as one. */
export function openSpans({ list }: Pick<Turns, 'list'>, { channel, leadFrames, tailFrames }: Microphone): FrameSpan[] {
  return merged(
    list
      .filter((turn) => turn.channel === channel)
      .map(({ startFrame, endFrame }) => ({ startFrame: startFrame - leadFrames, endFrame: endFrame + tailFrames })),
  );
}
