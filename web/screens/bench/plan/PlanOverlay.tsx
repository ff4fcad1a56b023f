import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import styled from 'styled-components';
import { moveBoundary, moveTurnEdge, removeSection, removeTurn } from '@pocket-twin/core/repair/plan/edit.ts';
import { openSpans } from '@pocket-twin/core/repair/plan/openness.ts';
import { sameRoute } from '@pocket-twin/core/repair/plan/timeline.ts';
import { pass } from '@pocket-twin/core/repair/plan/plans.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { framesIn, type FrameSpan } from '@pocket-twin/core/time/spans.ts';
import { laneOf } from '../../../ribbon/lanes.ts';
import { sayTime } from '@pocket-twin/core/time/sayTime.ts';

interface PlanOverlayProps {
  repair: Repair;
  view: FrameSpan;
  frames: number;
  sampleRate: number;
  channels: number;
  /** Pairs of the ribbon that are folded. */
  folded: readonly number[];
  /** Where something was found, in frames: dragged near, a boundary goes there. With Alt it does not. */
  found: readonly number[];
  /** The section or turn that is worked on. */
  chosen: number | null;
  onChoose: (index: number | null) => void;
  onChange: (repair: Repair) => void;
}

// More edges than this in sight would hide the sound: then only those of the chosen turn can be dragged.
const MOST_EDGES = 40;
const SNAP_PIXELS = 6;
const NUDGE_SECONDS = 0.01;
const FINE_NUDGE_SECONDS = 0.001;

/** A boundary or an edge that can be dragged, nudged and taken away. */
interface Edge {
  key: string;
  frame: number;
  name: string;
  /** In percent of the ribbon's height. */
  top: number;
  height: number;
  chosen: boolean;
  choose: () => void;
  move: (frame: number) => Repair;
  remove: () => Repair;
}

/** The plan in time on the ribbon itself: what is closed or replaced stands faint, boundaries and turns have handles; nothing covers the sound. */
export function PlanOverlay(props: PlanOverlayProps) {
  const { repair, view, frames, sampleRate, onChange } = props;
  const area = useRef<HTMLDivElement>(null);
  const dragged = useRef<Edge | null>(null);
  if (!repair.sections && !repair.turns) return null;
  const share = (frame: number): number => ((frame - view.startFrame) / framesIn(view)) * 100;
  const edges = edgesOf(props).filter(({ frame }) => frame >= view.startFrame && frame <= view.endFrame);
  const frameAt = (clientX: number): number => {
    const box = area.current!.getBoundingClientRect();
    return view.startFrame + ((clientX - box.left) / box.width) * framesIn(view);
  };
  const snapped = (frame: number): number => {
    const near = (SNAP_PIXELS * framesIn(view)) / area.current!.clientWidth;
    const nearest = props.found.reduce<number | null>(
      (best, place) => (best === null || Math.abs(place - frame) < Math.abs(best - frame) ? place : best),
      null,
    );
    return nearest !== null && Math.abs(nearest - frame) <= near ? nearest : frame;
  };
  const down =
    (edge: Edge) =>
    (event: PointerEvent<HTMLDivElement>): void => {
      event.stopPropagation();
      event.currentTarget.setPointerCapture(event.pointerId);
      dragged.current = edge;
      edge.choose();
    };
  const move =
    (edge: Edge) =>
    (event: PointerEvent<HTMLDivElement>): void => {
      if (dragged.current?.key !== edge.key) return;
      event.stopPropagation();
      onChange(edge.move(event.altKey ? frameAt(event.clientX) : snapped(frameAt(event.clientX))));
    };
  const up = (event: PointerEvent<HTMLDivElement>): void => {
    if (!dragged.current) return;
    event.stopPropagation();
    dragged.current = null;
  };
  const key =
    (edge: Edge) =>
    (event: KeyboardEvent<HTMLDivElement>): void => {
      const step = (event.shiftKey ? FINE_NUDGE_SECONDS : NUDGE_SECONDS) * sampleRate;
      if (event.key === 'ArrowLeft') onChange(edge.move(edge.frame - step));
      else if (event.key === 'ArrowRight') onChange(edge.move(edge.frame + step));
      else if (event.key === 'Delete' || event.key === 'Backspace') onChange(edge.remove());
      else return;
      event.preventDefault();
      event.stopPropagation();
    };
  return (
    <Layer ref={area}>
      <svg width="100%" height="100%" viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden="true">
        {faintShapes(props).map(({ key: name, points }) => (
          <polygon key={name} points={points.map(([frame, y]) => `${clamped(share(frame))},${y}`).join(' ')} />
        ))}
      </svg>
      {edges.map((edge) => (
        <Handle
          key={edge.key}
          role="slider"
          tabIndex={0}
          aria-label={edge.name}
          aria-valuemin={0}
          aria-valuemax={frames / sampleRate}
          aria-valuenow={edge.frame / sampleRate}
          aria-valuetext={sayTime(edge.frame / sampleRate, 3)}
          style={{ left: `${share(edge.frame)}%`, top: `${edge.top}%`, height: `${edge.height}%` }}
          $chosen={edge.chosen}
          onFocus={edge.choose}
          onPointerDown={down(edge)}
          onPointerMove={move(edge)}
          onPointerUp={up}
          onKeyDown={key(edge)}
        />
      ))}
    </Layer>
  );
}

function clamped(percent: number): number {
  return Math.max(-1, Math.min(101, percent));
}

/** Where a channel's half of the ribbon lies, in percent. */
function laneInPercent(channel: number, { channels, folded }: PlanOverlayProps): { top: number; height: number } {
  const { top, height } = laneOf(channel, channels, folded);
  return { top: 100 * top, height: 100 * height };
}

function edgesOf(props: PlanOverlayProps): Edge[] {
  const { repair, view, frames, chosen, onChoose } = props;
  const { sections, turns } = repair;
  const boundaries = (sections?.list ?? []).slice(1).map(({ startFrame }, i): Edge => ({
    key: `section ${i + 1}`,
    frame: startFrame,
    name: `Boundary between sections ${i + 1} and ${i + 2}`,
    ...{ top: 0, height: 100 },
    chosen: chosen === i + 1,
    choose: () => onChoose(i + 1),
    move: (frame) => moveBoundary(repair, i + 1, frame),
    remove: () => removeSection(repair, i + 1),
  }));
  const shown = (turns?.list ?? [])
    .map((turn, index) => ({ turn, index }))
    .filter(({ turn }) => turn.endFrame >= view.startFrame && turn.startFrame <= view.endFrame);
  const handled = 2 * shown.length > MOST_EDGES ? shown.filter(({ index }) => index === chosen) : shown;
  const turnEdges = handled.flatMap(({ turn, index }) =>
    (['startFrame', 'endFrame'] as const).map((edge): Edge => ({
      key: `turn ${index} ${edge}`,
      frame: turn[edge],
      name: `${edge === 'startFrame' ? 'Start' : 'End'} of turn ${index + 1}, channel ${turn.channel}`,
      ...laneInPercent(turn.channel, props),
      chosen: chosen === index,
      choose: () => onChoose(index),
      move: (frame) => moveTurnEdge(repair, index, edge, frame, frames),
      remove: () => removeTurn(repair, index),
    })),
  );
  return [...boundaries, ...turnEdges];
}

interface Shape {
  key: string;
  points: [frame: number, percent: number][];
}

/** What stands faint: a channel whose place another takes in a section, a microphone between its turns, with its fades as slopes. */
function faintShapes(props: PlanOverlayProps): Shape[] {
  const { repair, frames, channels } = props;
  const { sections, turns } = repair;
  const replaced = (sections?.list ?? []).flatMap(({ startFrame, endFrame, routes }, s) =>
    Array.from({ length: channels }, (_, i) => i + 1)
      .filter(
        (channel) =>
          !routes.some((route) => route.some(({ from }) => from === channel)) &&
          !sameRoute(routes[channel - 1] ?? [], pass(channel)),
      )
      .map((channel): Shape => {
        const { top, height } = laneInPercent(channel, props);
        return {
          key: `section ${s} ${channel}`,
          points: [
            [startFrame, top],
            [endFrame, top],
            [endFrame, top + height],
            [startFrame, top + height],
          ],
        };
      }),
  );
  const closed = (turns?.microphones ?? []).flatMap((microphone): Shape[] => {
    const { top, height } = laneInPercent(microphone.channel, props);
    const open = openSpans(turns!, microphone);
    const gaps = [...open, { startFrame: frames, endFrame: frames }].map((span, i) => ({
      from: i === 0 ? 0 : open[i - 1].endFrame,
      to: span.startFrame,
      first: i === 0,
      last: i === open.length,
    }));
    return gaps
      .filter(({ from, to }) => to > from)
      .map(({ from, to, first, last }, i): Shape => {
        const fadeOut = first ? 0 : Math.min(microphone.fadeOutFrames, (to - from) / 2);
        const fadeIn = last ? 0 : Math.min(microphone.fadeInFrames, (to - from) / 2);
        // The far side of the seam: a fade closes towards it.
        return {
          key: `closed ${microphone.channel} ${i}`,
          points: [
            [from, top + height],
            [from + fadeOut, top],
            [to - fadeIn, top],
            [to, top + height],
          ],
        };
      });
  });
  return [...replaced, ...closed];
}

const Layer = styled.div`
  position: absolute; inset: 0; pointer-events: none;
  svg { position: absolute; inset: 0; } polygon { fill: var(--sheet); fill-opacity: 0.66; }
`;
const Handle = styled.div<{ $chosen: boolean }>`
  position: absolute; width: 13px; margin-left: -6px; pointer-events: auto; cursor: ew-resize; touch-action: none;
  &::after { content: ''; position: absolute; top: 0; bottom: 0; left: ${({ $chosen }) => ($chosen ? 5 : 6)}px; width: ${({ $chosen }) => ($chosen ? 3 : 1)}px; background: var(--mono); }
  &::before { content: ''; position: absolute; top: 2px; left: 2px; width: 9px; height: 9px; border-radius: 3px; background: var(--mono); }
  &:focus-visible { outline: 2px solid var(--ink); outline-offset: -1px; border-radius: 4px; }
`;
