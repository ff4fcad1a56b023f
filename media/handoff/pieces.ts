import { framesOfSeconds, secondsOfFrames, type FrameSpan, type SecondsSpan } from '@pocket-twin/core/time/spans.ts';
import type { HandedOff, HandoffClip } from './handoffOrder.ts';

/** Where its sound is cut, in frames; null is all of it, and so are a picture, which is copied as it is, and a clip that needs nothing. */
export function cutsOf(
  { inspection }: HandoffClip,
  stretches: SecondsSpan[] | null,
  isCopied: boolean,
): (FrameSpan | null)[] {
  const { frames, sampleRate, hasVideo } = inspection.format;
  if (stretches === null || hasVideo || isCopied) return [null];
  return stretches.map((stretch) => {
    const { startFrame, endFrame } = framesOfSeconds(stretch, sampleRate);
    return startFrame <= 0 && endFrame >= frames ? null : { startFrame, endFrame: Math.min(frames, endFrame) };
  });
}

/** Several pieces of one recording, as one. */
export function together(done: HandedOff[]): HandedOff {
  return {
    receipt: { ...done[0].receipt, files: done.flatMap(({ receipt }) => receipt.files) },
    files: done.flatMap(({ files }) => files),
  };
}

/** Which stretch went into which files. */
export function pieceOf(
  { files }: HandedOff,
  span: FrameSpan | null,
  { inspection }: HandoffClip,
): SecondsSpan & { files: string[] } {
  const { frames, sampleRate } = inspection.format;
  return {
    ...secondsOfFrames(span ?? { startFrame: 0, endFrame: frames }, sampleRate),
    files: files.map(({ path }) => path),
  };
}
