import { useEffect, useMemo, useReducer, useRef } from 'react';
import styled from 'styled-components';
import { laneCount } from '@pocket-twin/core/outline/outline.ts';
import { ColumnSource } from './columns.ts';
import { drawRibbon, type RibbonColours } from './drawRibbon.ts';
import type { HeightScale } from './heightScale.ts';
import { useElementSize } from '../parts/useElementSize.ts';
import type { FrameSpan } from '@pocket-twin/core/time/spans.ts';

interface RibbonCanvasProps {
  clipId: string;
  frames: number;
  channels: number;
  view: FrameSpan;
  scale: HeightScale;
  folded: readonly number[];
  /** Changes when the colours have. */
  appearance: string;
}

/** The drawn outline of a clip, redrawn as its tiles come in. */
export function RibbonCanvas({ clipId, frames, channels, view, scale, folded, appearance }: RibbonCanvasProps) {
  const frame = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width, height } = useElementSize(frame);
  const [tilesCome, tileCame] = useReducer((count: number) => count + 1, 0);
  const source = useMemo(
    () => new ColumnSource({ clipId, frames, channels, lanes: laneCount(channels) }, tileCame),
    [clipId, frames, channels],
  );
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context || width === 0) return;
    const pixels = window.devicePixelRatio;
    canvas.current!.width = width * pixels;
    canvas.current!.height = height * pixels;
    context.scale(pixels, pixels);
    drawRibbon(context, { source, channels, view, scale, folded, width, height, colours: coloursOf(canvas.current!) });
  }, [source, channels, view, scale, folded, width, height, tilesCome, appearance]);
  return (
    <Frame ref={frame}>
      <canvas ref={canvas} data-tiles={tilesCome} />
    </Frame>
  );
}

function coloursOf(element: Element): RibbonColours {
  const style = getComputedStyle(element);
  const colour = (name: string): string => style.getPropertyValue(`--${name}`).trim();
  return {
    sheet: colour('sheet'),
    line: colour('line'),
    ink: colour('ink'),
    soft: colour('soft'),
    left: colour('left'),
    right: colour('right'),
    mono: colour('mono'),
    difference: colour('difference'),
  };
}

const Frame = styled.div`position: absolute; inset: 0; canvas { width: 100%; height: 100%; display: block; }`;
