import { resolve } from 'node:path';
import { isCopied } from '@pocket-twin/core/handoff/isCopied.ts';
import { withPieces } from '@pocket-twin/core/handoff/recordingOf.ts';
import { inStreams } from '@pocket-twin/core/repair/plan/inStreams.ts';
import type { HandedOffRecording } from '@pocket-twin/core/schema/handedOffRecording.ts';
import type { HandoffBits, HandoffFormat } from '@pocket-twin/core/schema/handoff.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { framesOfSeconds, secondsOfFrames, type FrameSpan, type SecondsSpan } from '@pocket-twin/core/time/spans.ts';
import { inputOf } from '../read/inputOf.ts';
import { filmStretch } from './filmStretch.ts';
import type { ClipCut, HandedOff, HandoffClip, HandoffOrder } from './handoffOrder.ts';

/** Where it is cut for each stretch; null is all of it, and so is a clip that needs nothing. A picture is cut where it can be copied as it is. */
export async function cutsOf(
  { path, inspection, facts }: HandoffClip,
  stretches: SecondsSpan[] | null,
  wanted: { repair: Repair | null; format: HandoffFormat; bits: HandoffBits },
): Promise<(ClipCut | null)[]> {
  const { frames, sampleRate, hasVideo } = inspection.format;
  if (stretches === null || isCopied({ ...wanted, hasVideo })) return [null];
  const soundStart = facts.picture?.soundStartSeconds ?? 0;
  const cuts: (ClipCut | null)[] = [];
  for (const stretch of stretches) {
    const asked = framesOfSeconds(stretch, sampleRate);
    if (asked.startFrame <= 0 && asked.endFrame >= frames) {
      cuts.push(null);
      continue;
    }
    const film =
      hasVideo && wanted.format === 'same'
        ? await filmStretch(await inputOf(path), {
            startSeconds: Math.max(0, stretch.startSeconds + soundStart),
            endSeconds: Math.max(0, stretch.endSeconds + soundStart),
          })
        : null;
    const { startFrame, endFrame } = framesOfSeconds(
      film
        ? {
            startSeconds: film.startSeconds === null ? 0 : film.startSeconds - soundStart,
            endSeconds: film.endSeconds === null ? frames / sampleRate : film.endSeconds - soundStart,
          }
        : stretch,
      sampleRate,
    );
    const span = { startFrame: Math.max(0, startFrame), endFrame: Math.min(frames, endFrame) };
    const isWhole = span.startFrame === 0 && span.endFrame === frames;
    cuts.push(isWhole || span.endFrame <= span.startFrame ? null : { ...span, film });
  }
  return cuts;
}

/** Several pieces of one recording, as one. */
export function together(done: HandedOff[]): HandedOff {
  return {
    receipt: { ...done[0].receipt, files: done.flatMap(({ receipt }) => receipt.files) },
    files: done.flatMap(({ files }) => files),
  };
}

/**
 * A recording with the stretches of it that were handed off. @param repair what was done to it; null where it was copied
 * @param path where an edit would look for it
 */
export function recordingWith(
  done: readonly HandedOff[],
  spans: readonly (FrameSpan | null)[],
  clip: HandoffClip,
  { repair, format }: Pick<HandoffOrder, 'repair' | 'format'>,
  path: string,
): HandedOffRecording {
  const { frames, sampleRate, hasVideo } = clip.inspection.format;
  return withPieces(
    { ...clip, source: resolve(clip.path), path },
    done.map(({ files }, i) => ({
      ...secondsOfFrames(spans[i] ?? { startFrame: 0, endFrame: frames }, sampleRate),
      paths: files.map(({ path }) => path),
      hasPicture: hasVideo && format === 'same',
      repair: repair && hasVideo && format === 'same' ? inStreams(repair, clip.facts.streams) : repair,
    })),
  );
}
