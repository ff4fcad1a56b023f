import type { Repair } from '../../schema/repair.ts';
import type { FrameSpan } from '../../time/spans.ts';

/** What a plan does within a stretch of the clip, in frames from its start. */
export function repairWithin(repair: Repair, { startFrame, endFrame }: FrameSpan): Repair {
  const cut = <Span extends FrameSpan>(list: readonly Span[]): Span[] =>
    list
      .filter((span) => span.endFrame > startFrame && span.startFrame < endFrame)
      .map((span) => ({
        ...span,
        startFrame: Math.max(0, span.startFrame - startFrame),
        endFrame: Math.min(endFrame, span.endFrame) - startFrame,
      }));
  return {
    ...repair,
    sections: repair.sections && { ...repair.sections, list: cut(repair.sections.list) },
    turns: repair.turns && { ...repair.turns, list: cut(repair.turns.list) },
  };
}
