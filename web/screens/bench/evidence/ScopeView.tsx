import { useEffect, useRef } from 'react';
import styled from 'styled-components';
import type { MatchEvidence } from '@pocket-twin/core/schema/evidence.ts';
import { sayNumber } from '@pocket-twin/core/signal/sayDecibels.ts';
import { useChartLook } from './chartLook.ts';

const SIZE = 190;
const MARGIN = 22;

/** Samples of the two sides against each other. */
export function ScopeView({
  match: { scope },
  names,
  correlation,
}: {
  match: MatchEvidence;
  names: string[];
  correlation: number | null;
}) {
  const look = useChartLook();
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const element = canvas.current!;
    const density = window.devicePixelRatio || 1;
    element.width = SIZE * density;
    element.height = SIZE * density;
    const context = element.getContext('2d')!;
    context.scale(density, density);
    const largest = Math.max(1e-6, ...scope.left.map(Math.abs), ...scope.right.map(Math.abs));
    const half = SIZE / 2 - MARGIN;
    const place = (value: number): number => (value / largest) * half;
    context.strokeStyle = look.line;
    context.lineWidth = 1;
    context.strokeRect(SIZE / 2 - half, SIZE / 2 - half, 2 * half, 2 * half);
    for (const [x, y] of [
      [1, 0],
      [0, 1],
    ]) {
      context.beginPath();
      context.moveTo(SIZE / 2 - x * half, SIZE / 2 - y * half);
      context.lineTo(SIZE / 2 + x * half, SIZE / 2 + y * half);
      context.stroke();
    }
    context.fillStyle = look.ink;
    context.globalAlpha = 0.35;
    scope.left.forEach((left, i) =>
      context.fillRect(SIZE / 2 + place(left) - 0.75, SIZE / 2 - place(scope.right[i]) - 0.75, 1.5, 1.5),
    );
    context.globalAlpha = 1;
    context.font = "12px 'Instrument Sans Variable', sans-serif";
    context.textAlign = 'center';
    context.fillStyle = look.soft;
    context.fillText(names[0], SIZE / 2, SIZE - 6);
    context.save();
    context.translate(13, SIZE / 2);
    context.rotate(-Math.PI / 2);
    context.fillText(names[1], 0, 0);
    context.restore();
  }, [look, names, scope]);
  return (
    <Row>
      <canvas
        ref={canvas}
        role="img"
        aria-label={`${names[0]} against ${names[1]}`}
        style={{ width: SIZE, height: SIZE }}
      />
      {correlation !== null && (
        <p>
          Correlation
          <br />
          <strong className="numeric">{sayNumber(correlation, 2)}</strong>
        </p>
      )}
    </Row>
  );
}

const Row = styled.div`display: flex; gap: 18px; align-items: center; p { font-size: 13px; color: var(--soft); } strong { font-size: 22px; color: var(--ink); font-weight: 500; }`;
