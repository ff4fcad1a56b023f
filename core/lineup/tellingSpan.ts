import type { Sketch } from '../schema/sketch.ts';
import type { Inspection } from '../schema/inspection.ts';
import type { SecondsSpan } from '../time/spans.ts';

const TELLING_SECONDS = 10;
const FLOOR_DBFS = -60;
// Heard before what changes, so that the change is heard as one.
const LEAD_SECONDS = 3;

/** The ten seconds that tell most about a clip: where it changes or drops out, else where most is heard, on both sides if both carry something. */
export function tellingSpan(
  { format, sections, findings }: Pick<Inspection, 'format' | 'sections' | 'findings'>,
  sketch: Sketch,
): SecondsSpan {
  const { durationSeconds } = format;
  const seconds = Math.min(TELLING_SECONDS, durationSeconds);
  const change = findings.find(({ code }) => code === 'dropout')?.startSeconds ?? sections[1]?.startSeconds;
  const start = change === undefined ? loudestStart(sketch, seconds, durationSeconds) : change - LEAD_SECONDS;
  const startSeconds = Math.max(0, Math.min(start, durationSeconds - seconds));
  return { startSeconds, endSeconds: startSeconds + seconds };
}

function loudestStart(sketch: Sketch, seconds: number, durationSeconds: number): number {
  const columns = sketch[0]?.peaksDbfs.length ?? 0;
  if (columns === 0 || durationSeconds <= seconds) return 0;
  const heard = Array.from({ length: columns }, (_, column) => {
    const reach = sketch
      .map(({ peaksDbfs }) => Math.max(0, (peaksDbfs[column] ?? FLOOR_DBFS) - FLOOR_DBFS))
      .sort((a, b) => b - a);
    // The second loudest channel counts half: two people talking tell more than one.
    return reach[0] + (reach[1] ?? 0) / 2;
  });
  const width = Math.max(1, Math.round((columns * seconds) / durationSeconds));
  let sum = heard.slice(0, width).reduce((total, value) => total + value, 0);
  let best = 0;
  let bestSum = sum;
  for (let first = 1; first + width <= columns; first++) {
    sum += heard[first + width - 1] - heard[first - 1];
    if (sum > bestSum) [best, bestSum] = [first, sum];
  }
  return (best * durationSeconds) / columns;
}
