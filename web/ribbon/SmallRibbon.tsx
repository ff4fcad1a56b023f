import { memo } from 'react';
import styled from 'styled-components';
import type { Sketch } from '@pocket-twin/core/schema/sketch.ts';

const WIDTH = 190;
const HALF = 15;
const FLOOR_DB = -60;

interface SmallRibbonProps {
  sketch: Sketch;
  /** The two channels to draw, above and below the seam; one alone rises from it. */
  channels?: [above: number, below?: number];
}

/** The ribbon of a row: left above the seam, right below, peaks in decibels down to −60 dBFS. More than two channels are laid over each other by pairs. */
export const SmallRibbon = memo(function SmallRibbon({ sketch, channels = [1, 2] }: SmallRibbonProps) {
  const above = sketch.find(({ channel }) => channel === channels[0]);
  const below = sketch.find(({ channel }) => channel === channels[1]);
  const columns = above?.peaksDbfs.length ?? 0;
  const step = WIDTH / Math.max(1, columns);
  const half = channels.length === 1 && sketch.length > 1 ? 2 * HALF - 4 : HALF;
  const height = (db: number | null): number => (db === null ? 0 : Math.max(0, 1 - db / FLOOR_DB) * (half - 1));
  const bars = (peaks: (number | null)[], direction: 1 | -1): string =>
    peaks
      .map((db, i) => {
        const h = height(db);
        return h < 0.3 ? '' : `M${(i * step + step / 2).toFixed(1)} ${half}v${(-direction * h).toFixed(1)}`;
      })
      .join('');
  const colour = sketch.length === 1 ? 'var(--mono)' : channels[0] % 2 === 1 ? 'var(--left)' : 'var(--right)';
  return (
    <Drawing viewBox={`0 0 ${WIDTH} ${2 * HALF}`} height={2 * HALF} aria-hidden="true" preserveAspectRatio="none">
      <path d={`M0 ${half}h${WIDTH}`} stroke="var(--line)" />
      {above && <path d={bars(above.peaksDbfs, 1)} stroke={colour} strokeWidth={step * 0.62} />}
      {below && <path d={bars(below.peaksDbfs, -1)} stroke="var(--right)" strokeWidth={step * 0.62} />}
    </Drawing>
  );
});

const Drawing = styled.svg`display: block; width: 100%;`;
