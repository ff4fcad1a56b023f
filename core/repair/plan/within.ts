import type { InputTrim, Repair } from '../../schema/repair.ts';
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
    trims: repair.trims.map((trim) => trimFrom(trim, startFrame)),
    sections: repair.sections && { ...repair.sections, list: cut(repair.sections.list) },
    turns: repair.turns && { ...repair.turns, list: cut(repair.turns.list) },
  };
}

/** A delay that moves is another one where the stretch begins; a jump that lies before it is over. */
function trimFrom(trim: InputTrim, startFrame: number): InputTrim {
  const { course, delaySamples, ...others } = trim;
  if (!course) return trim;
  const { driftPpm, jump } = course;
  const isOver = jump !== null && jump.atFrame <= startFrame;
  const later = delaySamples + 1e-6 * driftPpm * startFrame + (isOver ? jump.samples : 0);
  const left = jump === null || isOver ? null : { ...jump, atFrame: jump.atFrame - startFrame };
  const stays = driftPpm === 0 && left === null;
  return { ...others, delaySamples: later, ...(stays ? {} : { course: { driftPpm, jump: left } }) };
}
