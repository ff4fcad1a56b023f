import type { Correlogram } from './arrival.ts';

/** How an arrival goes along a stretch. */
export interface ArrivalPath {
  /** In samples, at each place of the stretch. */
  delays: number[];
  /** How much of the whitened sound agrees along it, on average; 0..1. */
  height: number;
}

/**
 * The path of lags, one for each curve, along which the sides agree most, and that moves by no more than `fastest` from one curve to the next
 * (A. Viterbi, 1967). Of either polarity, the same all along.
 * @param curves of places one after the other, all of one reach @param limits from `least` to `most`, nought and later
 */
export function arrivalPath(
  curves: readonly Pick<Correlogram, 'reach' | 'values'>[],
  { least, most, fastest }: { least: number; most: number; fastest: number },
): ArrivalPath {
  const [{ reach }] = curves;
  const highest = (sign: number): number =>
    curves.reduce((total, { values }) => {
      let best = 0;
      for (let lag = least; lag <= most; lag++) best = Math.max(best, sign * values[reach + lag]);
      return total + best;
    }, 0);
  const sign = highest(1) >= highest(-1) ? 1 : -1;
  let scores = Float64Array.from({ length: most + 1 }, (_, lag) => sign * curves[0].values[reach + lag]);
  const cameFrom: Int32Array[] = [];
  const leading = new Int32Array(most + 1);
  for (const { values } of curves.slice(1)) {
    const next = new Float64Array(most + 1);
    const back = new Int32Array(most + 1);
    // Of the lags near enough those that are higher than all after them, in order: the first of them is the best.
    let first = 0;
    let end = 0;
    let reached = least;
    for (let lag = least; lag <= most; lag++) {
      for (; reached <= Math.min(most, lag + fastest); reached++) {
        while (end > first && scores[leading[end - 1]] < scores[reached]) end--;
        leading[end++] = reached;
      }
      while (leading[first] < lag - fastest) first++;
      back[lag] = leading[first];
      next[lag] = scores[leading[first]] + sign * values[reach + lag];
    }
    scores = next;
    cameFrom.push(back);
  }
  let lag = least;
  for (let i = least; i <= most; i++) if (scores[i] > scores[lag]) lag = i;
  const height = scores[lag] / curves.length;
  const delays = [lag];
  for (const back of cameFrom.reverse()) {
    lag = back[lag];
    delays.unshift(lag);
  }
  return { delays, height };
}
