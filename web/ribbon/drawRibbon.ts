import type { ColumnData, ColumnSource } from './columns.ts';
import { DIFFERENCE_SHARE, laneOf, pairLanes } from './lanes.ts';
import { heightOf, heightTicks, type HeightScale } from './heightScale.ts';
import { amplitudeFromDb, dbFromAmplitude } from '@pocket-twin/core/signal/decibels.ts';
import { sayDecibels, sayNumber } from '@pocket-twin/core/signal/sayDecibels.ts';
import { framesIn, type FrameSpan } from '@pocket-twin/core/time/spans.ts';

export interface RibbonColours {
  sheet: string;
  line: string;
  ink: string;
  soft: string;
  left: string;
  right: string;
  mono: string;
  difference: string;
}

export interface RibbonScene {
  source: ColumnSource;
  channels: number;
  view: FrameSpan;
  scale: HeightScale;
  colours: RibbonColours;
  width: number;
  height: number;
  /** Pairs that are folded, from 0. */
  folded: readonly number[];
}

const TICK_FONT = '11px "Spline Sans Mono Variable", monospace';
const COLUMN_STEP = 3;
const COLUMN_WIDTH = 2;
/** From here on in, single samples are drawn as dots on a line. */
const PIXELS_PER_SAMPLE_FOR_DOTS = 3;

/**
 * Left rises above a seam, right hangs below it; the difference lies in a lane of its own underneath.
 * More channels make more ribbons, pair by pair; a single one has no lower half.
 */
export function drawRibbon(context: CanvasRenderingContext2D, scene: RibbonScene): void {
  const { width, height, channels, colours } = scene;
  context.clearRect(0, 0, width, height);
  const differenceHeight = channels === 2 ? Math.round(height * DIFFERENCE_SHARE) : 0;
  const pixelsPerSample = width / framesIn(scene.view);
  const dots = pixelsPerSample >= PIXELS_PER_SAMPLE_FOR_DOTS;
  const columns = dots ? null : scene.source.columns(scene.view, Math.floor(width / COLUMN_STEP));
  for (const [pair, lane] of pairLanes(channels, scene.folded).entries()) {
    const [top, pairHeight] = [lane.top * height, lane.height * height];
    const single = lane.channels.length === 1;
    const half = single ? pairHeight : pairHeight / 2;
    const upper = channels === 1 ? colours.mono : colours.left;
    if (columns) {
      drawHalf(context, columns[2 * pair], upper, top + half, half, -1, scene.scale);
      if (!single) drawHalf(context, columns[2 * pair + 1], colours.right, top + half, half, 1, scene.scale);
    }
    if (columns && !lane.isFolded) drawTicks(context, scene, top, half, single);
    line(context, colours.line, 0, top + half, width);
    if (pair > 0) line(context, colours.line, 0, top, width);
  }
  if (dots) drawSamples(context, scene, pixelsPerSample);
  if (differenceHeight > 0) {
    const middle = height - differenceHeight / 2;
    line(context, colours.line, 0, height - differenceHeight, width);
    if (columns) {
      drawHalf(context, columns[channels], colours.difference, middle, differenceHeight / 2, -1, scene.scale);
      drawHalf(context, columns[channels], colours.difference, middle, differenceHeight / 2, 1, scene.scale);
    }
    line(context, colours.line, 0, middle, width);
  }
}

function drawHalf(
  context: CanvasRenderingContext2D,
  { min, max, rms }: ColumnData,
  colour: string,
  seam: number,
  room: number,
  direction: 1 | -1,
  scale: HeightScale,
): void {
  const reach = Math.max(1, room - 6);
  context.fillStyle = colour;
  for (let i = 0; i < min.length; i++) {
    if (Number.isNaN(min[i])) continue;
    const peak = heightOf(Math.max(-min[i], max[i]), scale) * reach;
    const body = heightOf(rms[i], scale) * reach;
    const bar = (height: number): void =>
      context.fillRect(i * COLUMN_STEP, direction < 0 ? seam - height : seam, COLUMN_WIDTH, height);
    context.globalAlpha = 0.45;
    bar(Math.max(peak, peak > 0 ? 1 : 0));
    context.globalAlpha = 1;
    bar(body);
  }
}

/** Single samples, with their sign: every channel around a line of its own, as high as the loudest in sight. */
function drawSamples(
  context: CanvasRenderingContext2D,
  { source, view, channels, colours, width, height, folded }: RibbonScene,
  pixelsPerSample: number,
): void {
  const first = Math.floor(view.startFrame);
  const samples = source.samples(first, Math.ceil(framesIn(view)) + 1);
  const loudest = samples.reduce(
    (peak, values) => values.reduce((most, value) => Math.max(most, Math.abs(value) || 0), peak),
    0,
  );
  samples.forEach((values, c) => {
    const lane = laneOf(c + 1, channels, folded);
    const room = lane.height * height;
    const middle = lane.top * height + room / 2;
    const yOf = (value: number): number => middle - (value / (loudest || 1)) * Math.max(1, room / 2 - 10);
    line(context, colours.line, 0, middle, width);
    context.strokeStyle = context.fillStyle =
      channels === 1 ? colours.mono : c % 2 === 0 ? colours.left : colours.right;
    context.globalAlpha = 0.5;
    context.beginPath();
    values.forEach((value, i) => {
      if (!Number.isNaN(value)) context.lineTo((first + i - view.startFrame) * pixelsPerSample, yOf(value));
    });
    context.stroke();
    context.globalAlpha = 1;
    values.forEach((value, i) => {
      if (Number.isNaN(value)) return;
      context.beginPath();
      context.arc(
        (first + i - view.startFrame) * pixelsPerSample,
        yOf(value),
        Math.min(4, pixelsPerSample / 4),
        0,
        2 * Math.PI,
      );
      context.fill();
    });
  });
  context.font = TICK_FONT;
  context.textAlign = 'right';
  context.fillStyle = colours.soft;
  context.fillText(`linear, edge at ${sayDecibels(dbFromAmplitude(loudest), 'dBFS')}`, width - 6, 14);
}

function drawTicks(
  context: CanvasRenderingContext2D,
  { colours, scale, width }: RibbonScene,
  top: number,
  half: number,
  single: boolean,
): void {
  context.font = TICK_FONT;
  context.textAlign = 'right';
  for (const db of heightTicks(scale)) {
    const rise = heightOf(amplitudeFromDb(db), scale) * (half - 6);
    for (const y of single ? [top + half - rise] : [top + half - rise, top + half + rise]) {
      context.globalAlpha = 0.5;
      line(context, colours.line, 0, y, width);
      context.globalAlpha = 1;
      const label = db === 0 ? '0 dBFS' : sayNumber(db, 0);
      const baseline = y + (y > top + half ? -4 : 12);
      const labelWidth = context.measureText(label).width;
      // On a piece of the sheet, or bars behind the figures would make them unreadable.
      context.fillStyle = colours.sheet;
      context.fillRect(width - labelWidth - 10, baseline - 10, labelWidth + 8, 13);
      context.fillStyle = colours.soft;
      context.fillText(label, width - 6, baseline);
    }
  }
}

function line(context: CanvasRenderingContext2D, colour: string, x: number, y: number, width: number): void {
  context.fillStyle = colour;
  context.fillRect(x, Math.round(y), width, 1);
}
