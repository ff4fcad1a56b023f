import type { Sketch } from '../schema/sketch.ts';

// As wide as the page's text, each half as high as reads well in print.
const WIDTH = 640;
const HALF = 26;
const FLOOR_DB = -60;

/**
 * A ribbon in little as a picture for pages that load nothing: the first channel of each pair above the seam, the second below; one alone above.
 * Peaks in decibels down to -60 dBFS, as the ribbons of the lineup. Colours come from the page's own style.
 */
export function sketchSvg(sketch: Sketch, name: string): string {
  const rows: Sketch[] = [];
  for (let c = 0; c < sketch.length; c += 2) rows.push(sketch.slice(c, c + 2));
  // One channel alone has nothing below its seam.
  const height = sketch.length === 1 ? HALF + 1 : rows.length * 2 * HALF;
  const body = rows.map((row, i) => pair(row, i * 2 * HALF, sketch.length === 1)).join('');
  return `<svg viewBox="0 0 ${WIDTH} ${height}" width="${WIDTH}" height="${height}" role="img" aria-label="${name}">${body}</svg>`;
}

function pair(row: Sketch, top: number, isMono: boolean): string {
  const [above, below] = row;
  const seam = top + HALF;
  const lines = [
    `<path class="seam" d="M0 ${seam}h${WIDTH}"/>`,
    `<path class="${isMono ? 'mono' : 'left'}" d="${bars(above.peaksDbfs, seam, -1)}"/>`,
    below ? `<path class="right" d="${bars(below.peaksDbfs, seam, 1)}"/>` : '',
  ];
  return lines.join('');
}

function bars(peaks: readonly (number | null)[], seam: number, direction: 1 | -1): string {
  const step = WIDTH / Math.max(1, peaks.length);
  return peaks
    .map((db, i) => {
      const length = db === null ? 0 : Math.max(0, 1 - db / FLOOR_DB) * (HALF - 2);
      return length < 0.3 ? '' : `M${((i + 0.5) * step).toFixed(1)} ${seam}v${(direction * length).toFixed(1)}`;
    })
    .join('');
}
