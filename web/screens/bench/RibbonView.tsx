import { useEffect, useMemo, useRef, type PointerEvent } from 'react';
import { VisuallyHidden } from 'react-aria';
import styled from 'styled-components';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import { useAppDispatch, useAppSelector } from '../../state/store.ts';
import type { Player } from '../../listen/player.ts';
import { Button } from '../../parts/Button.tsx';
import { Choice } from '../../parts/Choice.tsx';
import { framesIn } from '@pocket-twin/core/time/spans.ts';
import { sayTime } from '@pocket-twin/core/time/sayTime.ts';
import { RibbonCanvas } from '../../ribbon/RibbonCanvas.tsx';
import { leastRibbonPixels } from '../../ribbon/lanes.ts';
import { foldedAtFirst, LaneNames } from './LaneNames.tsx';
import { ribbonWords } from './ribbonWords.ts';
import { moved, whole, zoomed } from '../../ribbon/view.ts';
import { heightScaleChosen, inTimeChosen, pairsFolded, partFolded, viewChanged } from '../../state/benchSlice.ts';
import { PlanBand } from './plan/PlanBand.tsx';
import { PlanOverlay } from './plan/PlanOverlay.tsx';
import { SectionBand } from './SectionBand.tsx';
import { useAppearanceKey } from './useAppearanceKey.ts';

const WHEEL_ZOOM = 1.0015;
const TICKS = 5;
// Of more channels not all are in sight: there the wheel scrolls to them, and zooms with Ctrl or Command.
const MOST_CHANNELS_IN_SIGHT = 4;

interface RibbonViewProps {
  clipId: string;
  inspection: Inspection;
  player: Player;
  /** The repair that is tried: its sections and turns are worked on here. */
  repair: Repair;
  onRepair: (repair: Repair) => void;
}

/** The ribbon with its sections, scale, time and playhead; the wheel zooms, dragging moves, a click seeks. */
export function RibbonView({ clipId, inspection, player, repair, onRepair }: RibbonViewProps) {
  const { frames, sampleRate, channels } = inspection.format;
  const dispatch = useAppDispatch();
  const view = useAppSelector((state) => state.bench.views[clipId]) ?? whole(frames);
  const scale = useAppSelector((state) => state.bench.heightScale);
  const chosen = useAppSelector((state) => state.bench.chosenInTime);
  const places = useAppSelector((state) => state.bench.found[clipId]);
  const found = useMemo(
    () => [...inspection.sections.map(({ startSeconds }) => Math.round(startSeconds * sampleRate)), ...(places ?? [])],
    [inspection, places, sampleRate],
  );
  const choose = (index: number | null): void => {
    dispatch(inTimeChosen(index));
    if (index !== null) dispatch(partFolded({ part: 'time', open: true }));
  };
  const chosenFolds = useAppSelector((state) => state.bench.folded[clipId]);
  const folded = useMemo(() => chosenFolds ?? foldedAtFirst(inspection), [chosenFolds, inspection]);
  const fold = (pairs: number[]): void => {
    dispatch(pairsFolded({ clipId, folded: pairs }));
  };
  const area = useRef<HTMLDivElement>(null);
  const head = useRef<HTMLDivElement>(null);
  const current = useRef(view);
  current.current = view;
  const show = (next: typeof view): void => {
    dispatch(viewChanged({ clipId, view: next }));
  };

  useEffect(() => {
    const place = (): void => {
      const { startFrame: start, endFrame: end } = current.current;
      const share = (player.state.frame - start) / (end - start);
      if (head.current) {
        head.current.style.left = `${share * 100}%`;
        head.current.style.visibility = share >= 0 && share <= 1 ? 'visible' : 'hidden';
      }
    };
    place();
    return player.subscribe(place);
  }, [player, view]);

  const frameAt = (clientX: number): number => {
    const box = area.current!.getBoundingClientRect();
    return current.current.startFrame + ((clientX - box.left) / box.width) * framesIn(current.current);
  };

  useEffect(() => {
    const element = area.current!;
    const wheel = (event: WheelEvent): void => {
      if (
        channels > MOST_CHANNELS_IN_SIGHT &&
        !event.ctrlKey &&
        !event.metaKey &&
        !event.shiftKey &&
        event.deltaX === 0
      )
        return;
      event.preventDefault();
      const perPixel = framesIn(current.current) / element.clientWidth;
      const sideways = event.shiftKey ? event.deltaY : event.deltaX;
      if (sideways !== 0) dispatch(viewChanged({ clipId, view: moved(current.current, sideways * perPixel, frames) }));
      else
        dispatch(
          viewChanged({
            clipId,
            view: zoomed(current.current, WHEEL_ZOOM ** event.deltaY, frameAt(event.clientX), frames),
          }),
        );
    };
    // React's own wheel listener is passive and could not keep the page from scrolling.
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, [channels, clipId, dispatch, frames]);

  const drag = useRef<{ x: number; view: typeof view; far: boolean } | null>(null);
  const pointerDown = (event: PointerEvent): void => {
    drag.current = { x: event.clientX, view, far: false };
    event.currentTarget.setPointerCapture(event.pointerId);
  };
  const pointerMove = (event: PointerEvent): void => {
    if (!drag.current) return;
    const byPixels = drag.current.x - event.clientX;
    if (Math.abs(byPixels) > 3) drag.current.far = true;
    const perPixel = framesIn(view) / area.current!.clientWidth;
    if (drag.current.far) show(moved(drag.current.view, byPixels * perPixel, frames));
  };
  const pointerUp = (event: PointerEvent): void => {
    if (drag.current && !drag.current.far) player.seek(frameAt(event.clientX));
    drag.current = null;
  };

  const zoom = (factor: number): void => {
    const at = player.state.frame;
    show(
      zoomed(
        view,
        factor,
        at >= view.startFrame && at <= view.endFrame ? at : (view.startFrame + view.endFrame) / 2,
        frames,
      ),
    );
  };
  const appearance = useAppearanceKey();
  const decimals = decimalsFor(framesIn(view) / sampleRate);
  return (
    <section aria-label="Ribbon" aria-describedby="ribbon-in-words">
      <VisuallyHidden>
        <p id="ribbon-in-words">{ribbonWords(inspection)}</p>
      </VisuallyHidden>
      <SectionBand inspection={inspection} view={view} />
      <PlanBand repair={repair} view={view} chosen={chosen} onChoose={choose} />
      <Area
        style={{ minHeight: leastRibbonPixels(channels, folded) }}
        ref={area}
        onPointerDown={pointerDown}
        onPointerMove={pointerMove}
        onPointerUp={pointerUp}
      >
        <RibbonCanvas
          clipId={clipId}
          frames={frames}
          channels={channels}
          view={view}
          scale={scale}
          folded={folded}
          appearance={appearance}
        />
        <PlanOverlay
          repair={repair}
          view={view}
          frames={frames}
          sampleRate={sampleRate}
          channels={channels}
          folded={folded}
          found={found}
          chosen={chosen}
          onChoose={choose}
          onChange={onRepair}
        />
        <LaneNames inspection={inspection} folded={folded} onFold={fold} />
        <Playhead ref={head} data-testid="playhead" />
      </Area>
      <Times className="numeric" aria-hidden="true">
        {Array.from({ length: TICKS }, (_, i) => (
          <span key={i}>{sayTime((view.startFrame + (i / (TICKS - 1)) * framesIn(view)) / sampleRate, decimals)}</span>
        ))}
      </Times>
      <Tools>
        <Choice
          label="Height of the ribbon"
          small
          value={scale}
          onChange={(chosen) => dispatch(heightScaleChosen(chosen))}
          options={[
            { value: 'db', label: 'dB', title: 'Height in dB' },
            { value: 'linear', label: 'Linear', title: 'Linear height' },
          ]}
        />
        <Span className="numeric" data-testid="span">
          {sayLength(framesIn(view) / sampleRate, framesIn(view))}
        </Span>
        {channels > MOST_CHANNELS_IN_SIGHT && <Span>Ctrl and the wheel zoom</Span>}
        <SmallButtons>
          <Button kind="quiet" shortcut="zoom-out" aria-label="Zoom out" onPress={() => zoom(2)}>
            Out
          </Button>
          <Button kind="quiet" shortcut="zoom-in" aria-label="Zoom in" onPress={() => zoom(0.5)}>
            In
          </Button>
          <Button kind="quiet" shortcut="whole" onPress={() => show(whole(frames))}>
            Whole clip
          </Button>
        </SmallButtons>
      </Tools>
    </section>
  );
}

function decimalsFor(seconds: number): number {
  if (seconds > 20) return 0;
  return seconds > 2 ? 1 : seconds > 0.05 ? 3 : 5;
}

function sayLength(seconds: number, frames: number): string {
  if (frames < 2000) return `${Math.round(frames)} samples shown`;
  return seconds < 1 ? `${(seconds * 1000).toFixed(0)} ms shown` : `${seconds.toFixed(1)} s shown`;
}

/* Of many channels each keeps a height that can be read; what does not fit is scrolled to. */
const Area = styled.div`
  position: relative; height: clamp(190px, 37vh, 560px); background: var(--sheet); border: 1px solid var(--line); border-top: 0; overflow: hidden; touch-action: none; cursor: crosshair;
  border-radius: 0 0 10px 10px;
`;
const Playhead = styled.div`position: absolute; top: 0; bottom: 0; width: 1px; background: var(--ink); pointer-events: none;`;
const Times = styled.div`display: flex; justify-content: space-between; font-size: 12px; color: var(--soft); padding: 4px 2px;`;
const Tools = styled.div`display: flex; align-items: center; gap: 16px; font-size: 12px;`;
const Span = styled.span`color: var(--soft);`;
const SmallButtons = styled.div`margin-left: auto; display: flex; button { min-height: 28px; padding: 2px 8px; font-size: 12px; }`;
