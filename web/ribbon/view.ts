import { framesIn, type FrameSpan } from '@pocket-twin/core/time/spans.ts';

// What the ribbon shows of a clip is a span of frames, whole or not.

/** No zoom goes further in than this. */
const FEWEST_FRAMES = 24;

/** Shows `factor` times as much, with the frame under the pointer staying under it. */
export function zoomed(view: FrameSpan, factor: number, aroundFrame: number, frames: number): FrameSpan {
  const length = Math.min(frames, Math.max(FEWEST_FRAMES, framesIn(view) * factor));
  const share = (aroundFrame - view.startFrame) / framesIn(view);
  return moved({ startFrame: aroundFrame - share * length, endFrame: aroundFrame + (1 - share) * length }, 0, frames);
}

/** What of a span lies inside the clip, never less than the closest zoom. */
export function inside({ startFrame, endFrame }: FrameSpan, frames: number): FrameSpan {
  const start = Math.max(0, startFrame);
  return moved({ startFrame: start, endFrame: Math.max(start + FEWEST_FRAMES, Math.min(frames, endFrame)) }, 0, frames);
}

/** The same length, elsewhere, inside the clip. */
export function moved(view: FrameSpan, byFrames: number, frames: number): FrameSpan {
  const length = Math.min(frames, framesIn(view));
  const start = Math.max(0, Math.min(frames - length, view.startFrame + byFrames));
  return { startFrame: start, endFrame: start + length };
}

export function whole(frames: number): FrameSpan {
  return { startFrame: 0, endFrame: frames };
}
