import * as z from 'zod';

// A stretch of time has one shape for each of the three clocks: samples, blocks of measuring, seconds. The end does not belong to it.

/** In samples of the clip. */
export interface FrameSpan {
  startFrame: number;
  endFrame: number;
}

/** In blocks of a measurement (`Measurement.blockSeconds`). */
export interface BlockSpan {
  startBlock: number;
  endBlock: number;
}

/** In seconds from the clip's start. */
export const SecondsSpan = z.object({ startSeconds: z.number().nonnegative(), endSeconds: z.number().nonnegative() });
export type SecondsSpan = z.infer<typeof SecondsSpan>;

export function framesIn({ startFrame, endFrame }: FrameSpan): number {
  return endFrame - startFrame;
}

export function blocksIn({ startBlock, endBlock }: BlockSpan): number {
  return endBlock - startBlock;
}

export function lengthSeconds({ startSeconds, endSeconds }: SecondsSpan): number {
  return endSeconds - startSeconds;
}

/** Where frames, whole or not, lie in seconds. */
export function secondsOfFrames({ startFrame, endFrame }: FrameSpan, sampleRate: number): SecondsSpan {
  return { startSeconds: startFrame / sampleRate, endSeconds: endFrame / sampleRate };
}

/** The nearest frames. */
export function framesOfSeconds({ startSeconds, endSeconds }: SecondsSpan, sampleRate: number): FrameSpan {
  return { startFrame: Math.round(startSeconds * sampleRate), endFrame: Math.round(endSeconds * sampleRate) };
}

export function secondsOfBlocks({ startBlock, endBlock }: BlockSpan, blockSeconds: number): SecondsSpan {
  return { startSeconds: startBlock * blockSeconds, endSeconds: endBlock * blockSeconds };
}
