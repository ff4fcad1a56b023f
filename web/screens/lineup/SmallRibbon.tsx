import styled from 'styled-components';
import type { Sketch } from '@pocket-twin/core/schema/clip.ts';

const WIDTH = 190;
const HALF = 15;
const FLOOR_DB = -60;

/** The ribbon of a row: left above the seam, right below, peaks in decibels down to −60 dBFS. */
export function SmallRibbon({ sketch }: { sketch: Sketch }) {
  const [above, below] = sketch;
  const columns = above?.peaksDbfs.length ?? 0;
  const step = WIDTH / Math.max(1, columns);
  const height = (db: number | null): number => (db === null ? 0 : Math.max(0, 1 - db / FLOOR_DB) * (HALF - 1));
  const bars = (peaks: (number | null)[], direction: 1 | -1): string => peaks.map((db, i) => {
    const h = height(db);
    return h < 0.3 ? '' : `M${(i * step + step / 2).toFixed(1)} ${HALF}v${(-direction * h).toFixed(1)}`;
  }).join('');
  return (
    <Drawing viewBox={`0 0 ${WIDTH} ${2 * HALF}`} width={WIDTH} height={2 * HALF} aria-hidden="true" preserveAspectRatio="none">
      <path d={`M0 ${HALF}h${WIDTH}`} stroke="var(--line)" />
      {above && <path d={bars(above.peaksDbfs, 1)} stroke={below ? 'var(--left)' : 'var(--mono)'} strokeWidth={step * 0.62} />}
      {below && <path d={bars(below.peaksDbfs, -1)} stroke="var(--right)" strokeWidth={step * 0.62} />}
    </Drawing>
  );
}

const Drawing = styled.svg`display: block;`;
