import type { FadeKind, Repair, Route } from '../../schema/repair.ts';
import type { FrameSpan } from '../../time/spans.ts';
import { pass } from './plans.ts';

/** One output channel in time. Piece i gives way to piece i + 1 within joint i, to which both belong. */
export interface Timeline {
  pieces: Piece[];
  joints: Joint[];
}

interface Piece extends FrameSpan {
  route: Route;
}

export interface Joint extends FrameSpan {
  kind: FadeKind;
}

/**
 * What feeds an output channel when. Sections that leave its route as it is are one piece of it: it has no fade there.
 * @param channel from 0, counted over all files; in frames of the clip, from 0 without end
 */
export function timelineOf({ outputs, sections }: Pick<Repair, 'outputs' | 'sections'>, channel: number): Timeline {
  if (!sections) {
    const route = outputs.flatMap(({ routes }) => routes)[channel];
    return { pieces: [{ startFrame: 0, endFrame: Infinity, route }], joints: [] };
  }
  const pieces: (Piece & { fadeIn: FadeKind })[] = [];
  for (const { startFrame, endFrame, routes, fadeIn } of sections.list) {
    const last = pieces.at(-1);
    if (last && sameRoute(last.route, routes[channel])) last.endFrame = endFrame;
    else pieces.push({ startFrame, endFrame, route: routes[channel], fadeIn });
  }
  const joints = pieces.slice(1).map((piece, i) => jointBetween(pieces[i], piece, sections.fadeFrames));
  pieces[pieces.length - 1].endFrame = Infinity;
  return { pieces, joints };
}

/** Whether each output has the channel of its own number, as it is. */
export function isStraight(routes: readonly Route[]): boolean {
  return routes.every((route, i) => sameRoute(route, pass(i + 1)));
}

/** The fade around a boundary, no longer than the shorter of the two: of short ones no two fades meet. */
function jointBetween(before: Piece, after: Piece & { fadeIn: FadeKind }, fadeFrames: number): Joint {
  const room = Math.min(before.endFrame - before.startFrame, after.endFrame - after.startFrame);
  const length = Math.min(fadeFrames, room);
  const startFrame = after.startFrame - Math.floor(length / 2);
  return { startFrame, endFrame: startFrame + length, kind: after.fadeIn };
}

/** The fades of a repair, those that overlap as one: outside of them each section stands alone. */
export function fadesOf(repair: Pick<Repair, 'outputs' | 'sections'>): FrameSpan[] {
  const channels = repair.outputs.reduce((sum, { routes }) => sum + routes.length, 0);
  return merged(Array.from({ length: channels }, (_, channel) => timelineOf(repair, channel).joints).flat());
}

/** Spans in order, those that overlap or touch as one; empty ones go. */
export function merged(spans: readonly FrameSpan[]): FrameSpan[] {
  const sorted = spans
    .filter(({ startFrame, endFrame }) => startFrame < endFrame)
    .sort((a, b) => a.startFrame - b.startFrame);
  const out: FrameSpan[] = [];
  for (const { startFrame, endFrame } of sorted) {
    const last = out.at(-1);
    if (last && startFrame <= last.endFrame) last.endFrame = Math.max(last.endFrame, endFrame);
    else out.push({ startFrame, endFrame });
  }
  return out;
}

export function sameRoute(a: Route, b: Route): boolean {
  return (
    a.length === b.length &&
    a.every(({ from, gainDb, polarity }) =>
      b.some((other) => other.from === from && other.gainDb === gainDb && other.polarity === polarity),
    )
  );
}
