import { useState, type KeyboardEvent, type PointerEvent } from 'react';
import styled from 'styled-components';
import { outputNames } from './outputNames.ts';
import type { InputTrim, Repair } from '@pocket-twin/core/schema/repair.ts';
import { sayDecibels, sayNumber } from '@pocket-twin/core/signal/sayDecibels.ts';

const WIDTH = 278;
const IN_X = 34;
const OUT_X = WIDTH - 40;
const STEP = 42;
const MOST_ROWS = 8;
// A cable that is let go this near to an output is plugged in there.
const REACH = 24;

interface CablesProps {
  repair: Repair;
  /** Lays a cable from a channel to an output (from 0), or takes it away; without it the drawing is only looked at. */
  onToggle?: (output: number, from: number) => void;
}

/** The route as cables: the clip's channels on the left, what is written on the right. */
export function Cables({ repair, onToggle }: CablesProps) {
  const names = outputNames(repair);
  const outputs = repair.outputs
    .flatMap((output) => output.routes)
    .map((route, o) => ({ route, label: names[o].short, name: names[o].long }));
  // From where a cable is being drawn, and where the pointer is.
  const [drawn, setDrawn] = useState<{ from: number; x: number; y: number } | null>(null);
  const rows = Math.min(MOST_ROWS, Math.max(repair.inputChannels, outputs.length));
  const height = rows * STEP + 16;
  const yOf = (index: number, count: number): number =>
    height / 2 + (index - (Math.min(count, MOST_ROWS) - 1) / 2) * STEP;
  const used = new Set(outputs.flatMap(({ route }) => route.map(({ from }) => from)));
  const colourOf = (channel: number): string =>
    repair.inputChannels === 1 ? 'var(--mono)' : channel % 2 === 1 ? 'var(--left)' : 'var(--right)';
  return (
    <Drawing
      viewBox={`0 0 ${WIDTH} ${height}`}
      role={onToggle ? 'group' : 'img'}
      aria-label={spoken(outputs)}
      onPointerMove={(event) => drawn && setDrawn({ ...drawn, ...placeIn(event) })}
      onPointerUp={(event) => {
        if (!drawn || !onToggle) return;
        const { x, y } = placeIn(event);
        const reached = outputs.findIndex((_, o) => Math.hypot(x - OUT_X, y - yOf(o, outputs.length)) < REACH);
        if (reached >= 0) onToggle(reached, drawn.from);
        setDrawn(null);
      }}
      $draws={onToggle !== undefined}
    >
      {outputs.slice(0, MOST_ROWS).map(({ route }, o) =>
        route
          .filter(({ from }) => from <= MOST_ROWS)
          .map(({ from, gainDb }) => {
            const [y1, y2] = [yOf(from - 1, repair.inputChannels), yOf(o, outputs.length)];
            return (
              <g key={`${from}-${o}`} onPointerDown={() => onToggle?.(o, from)}>
                {onToggle && <title>Take this cable away</title>}
                <path
                  d={`M${IN_X + 13} ${y1}C${WIDTH * 0.45} ${y1} ${WIDTH * 0.5} ${y2} ${OUT_X - 14} ${y2}`}
                  stroke={colourOf(from)}
                  strokeWidth={2.5}
                  fill="none"
                />
                {gainDb !== 0 && (
                  <text x={OUT_X - 22} y={(y1 + y2 * 3) / 4 + (y1 < y2 ? -8 : 16)} textAnchor="end">
                    {sayDecibels(gainDb, 'dB')}
                  </text>
                )}
              </g>
            );
          }),
      )}
      {Array.from({ length: Math.min(MOST_ROWS, repair.inputChannels) }, (_, i) => {
        const live = used.has(i + 1);
        const y = yOf(i, repair.inputChannels);
        const trim = repair.trims.find(({ channel }) => channel === i + 1);
        return (
          <g
            key={i}
            onPointerDown={(event) => {
              if (!onToggle) return;
              event.preventDefault();
              setDrawn({ from: i + 1, ...placeIn(event) });
            }}
          >
            <circle
              cx={IN_X}
              cy={y}
              r={13}
              fill={live ? colourOf(i + 1) : 'none'}
              stroke={live ? 'none' : 'var(--soft)'}
              strokeDasharray="3 3"
            />
            <text x={IN_X} y={y + 4} textAnchor="middle" className={live ? 'on' : undefined}>
              {i + 1}
            </text>
            {trim && (
              <text x={IN_X + 20} y={y - 7}>
                {trimWords(trim)}
              </text>
            )}
          </g>
        );
      })}
      {drawn && (
        <path
          d={`M${IN_X + 13} ${yOf(drawn.from - 1, repair.inputChannels)}L${drawn.x} ${drawn.y}`}
          stroke={colourOf(drawn.from)}
          strokeWidth={2.5}
          strokeDasharray="5 4"
          fill="none"
        />
      )}
      {outputs.slice(0, MOST_ROWS).map(({ label, name, route }, o) => {
        const y = yOf(o, outputs.length);
        const colour = label === 'L' ? 'var(--left)' : label === 'R' ? 'var(--right)' : 'var(--mono)';
        return (
          <g
            key={o}
            {...(onToggle && {
              role: 'button',
              tabIndex: 0,
              'data-takes-digits': '',
              'aria-label': `${name}, from ${route.length > 0 ? route.map(({ from }) => from).join(' and ') : 'nothing'}. Press a channel’s number to lay its cable or take it away`,
              onKeyDown: (event: KeyboardEvent) => {
                const from = Number(event.key);
                if (from >= 1 && from <= repair.inputChannels) onToggle(o, from);
              },
            })}
          >
            <rect x={OUT_X - 13} y={y - 13} width={26} height={26} rx={7} fill={colour} />
            <text x={OUT_X} y={y + 4} textAnchor="middle" className="on">
              {label}
            </text>
          </g>
        );
      })}
    </Drawing>
  );
}

/** What is done to a channel on its way. */
function trimWords({ polarity, gainDb, delaySamples, course }: InputTrim): string {
  return [
    polarity === 'inverted' && 'turned over',
    gainDb !== 0 && sayDecibels(gainDb, 'dB'),
    !course &&
      delaySamples !== 0 &&
      `${sayNumber(delaySamples, Number.isInteger(delaySamples) ? 0 : 2)} ${delaySamples === 1 ? 'sample' : 'samples'} later`,
    course &&
      course.driftPpm !== 0 &&
      `${sayNumber(Math.abs(course.driftPpm), 0)} ppm ${course.driftPpm > 0 ? 'slower' : 'faster'}`,
    course?.jump && 'moved, and again after a jump',
  ]
    .filter(Boolean)
    .join(', ');
}

/** Where the pointer is, in the drawing's own units. */
function placeIn(event: PointerEvent): { x: number; y: number } {
  const svg = (event.currentTarget as SVGElement).closest('svg') ?? (event.currentTarget as SVGSVGElement);
  const box = svg.getBoundingClientRect();
  const scale = WIDTH / box.width;
  return { x: (event.clientX - box.left) * scale, y: (event.clientY - box.top) * scale };
}

const SPOKEN: Record<string, string> = { L: 'left', R: 'right', M: 'mono' };

function spoken(outputs: { route: { from: number }[]; label: string }[]): string {
  return outputs
    .map(
      ({ route, label }) =>
        `${SPOKEN[label] ?? label} from ${route.map(({ from }) => `channel ${from}`).join(' and ')}`,
    )
    .join('; ');
}

const Drawing = styled.svg<{ $draws: boolean }>`
  display: block; touch-action: ${({ $draws }) => ($draws ? 'none' : 'auto')}; cursor: ${({ $draws }) => ($draws ? 'crosshair' : 'default')}; flex: none; width: 100%; background: var(--paper); border-radius: 10px;
  text { font: 600 12px 'Instrument Sans Variable', sans-serif; fill: var(--soft); }
  text.on { fill: var(--sheet); font-size: 11px; }
`;
