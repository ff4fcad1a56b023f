import type { Sketch } from '../schema/sketch.ts';
import { sideMark } from './namePattern.ts';

/** A mono clip that may be one side of a stereo recording. */
export interface PairClip {
  id: string;
  fileName: string;
  folder: string;
  channels: number;
  sampleRate: number;
  frames: number;
  startSamples: number | null;
  sketch: Sketch;
}

export interface ProposedPair {
  leftId: string;
  rightId: string;
}

const FLOOR_DBFS = -60;
// One recording's two files: the same length, or the same start, and loud and quiet at the same times. Where the names end in 1 and 2, which
// takes do as well, all of it must agree.
const LENGTH_SHARE = 0.02;
const EXACT_LENGTH_SECONDS = 0.1;
const FITS = 0.5;
const FITS_WELL = 0.8;

/** Mono files that look like the left and the right of one recording: names that differ only in a mark, one time, sound that fits. */
export function proposePairs(clips: PairClip[]): ProposedPair[] {
  const lefts = new Map<string, { clip: PairClip; weak: boolean }>();
  const rights = new Map<string, { clip: PairClip; weak: boolean }>();
  for (const clip of clips) {
    const mark = clip.channels === 1 ? sideMark(clip.fileName) : null;
    if (mark)
      (mark.side === 'left' ? lefts : rights).set(`${clip.folder}\n${mark.rest}\n${mark.weak}`, {
        clip,
        weak: mark.weak,
      });
  }
  return [...lefts].flatMap(([key, { clip: left, weak }]) => {
    const right = rights.get(key)?.clip;
    return right && belongTogether(left, right, weak) ? [{ leftId: left.id, rightId: right.id }] : [];
  });
}

function belongTogether(left: PairClip, right: PairClip, weak: boolean): boolean {
  if (left.sampleRate !== right.sampleRate) return false;
  const apart = Math.abs(left.frames - right.frames);
  const sameStart = left.startSamples !== null && left.startSamples === right.startSamples;
  const sameLength = weak ? apart <= EXACT_LENGTH_SECONDS * left.sampleRate : apart <= LENGTH_SHARE * left.frames;
  return (
    (sameLength || (sameStart && !weak)) && envelopeCorrelation(left.sketch, right.sketch) >= (weak ? FITS_WELL : FITS)
  );
}

/** Pearson's correlation of two drawn levels over time, -1..1; 0 where one of them never moves. */
function envelopeCorrelation([a]: Sketch, [b]: Sketch): number {
  const columns = Math.min(a.peaksDbfs.length, b.peaksDbfs.length);
  const levels = ({ peaksDbfs }: Sketch[number]): number[] =>
    peaksDbfs.slice(0, columns).map((db) => Math.max(db ?? FLOOR_DBFS, FLOOR_DBFS));
  const x = levels(a);
  const y = levels(b);
  const mean = (values: number[]): number => values.reduce((sum, value) => sum + value, 0) / columns;
  const mx = mean(x);
  const my = mean(y);
  let xx = 0;
  let yy = 0;
  let xy = 0;
  for (let i = 0; i < columns; i++) {
    xx += (x[i] - mx) ** 2;
    yy += (y[i] - my) ** 2;
    xy += (x[i] - mx) * (y[i] - my);
  }
  return xx * yy > 0 ? xy / Math.sqrt(xx * yy) : 0;
}
