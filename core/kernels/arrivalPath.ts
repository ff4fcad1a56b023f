import { arrivalPathWasm } from './arrivalPath.wasm.ts';
import { SeriesKernel } from './seriesKernel.ts';

interface ArrivalPathExports {
  sumOfHighest(curves: number, count: number, bytes: number, width: number, sign: number): number;
  highestPath(...[curves, count, bytes, width, sign, fastest, scores, next, leading, cameFrom, path]: number[]): number;
}

/** How an arrival goes along a stretch. */
export interface ArrivalPath {
  /** In samples, at each place of the stretch. */
  delays: number[];
  /** How much of the whitened sound agrees along it, on average; 0..1. */
  height: number;
}

const VALUE_BYTES = 8;
const PLACE_BYTES = 4;

const series = new SeriesKernel<ArrivalPathExports>(arrivalPathWasm);

/**
 * The path of lags, one for each curve, along which the sides agree most, and that moves by no more than `fastest` from one curve to the next, a whole number.
 * Of either polarity, the same all along.
 * @param curves of places one after the other, one at least; each has values of lags from -`reach` to `reach` @param limits from `least` to `most`
 */
export function arrivalPath(
  curves: readonly { reach: number; values: Float64Array }[],
  { least, most, fastest }: { least: number; most: number; fastest: number },
): ArrivalPath {
  const count = curves.length;
  const width = most + 1 - least;
  const { kernel, buffer, at } = series.laid(
    curves.map(({ reach, values }) => values.subarray(reach + least, reach + most + 1)),
    ...[width * VALUE_BYTES, width * VALUE_BYTES, width * PLACE_BYTES],
    ...[count * width * PLACE_BYTES, count * PLACE_BYTES],
  );
  const [scores, next, leading, cameFrom, path] = at.slice(count);
  const bytes = (at[1] ?? scores) - at[0];
  const all = [at[0], count, bytes, width] as const;
  const sign = kernel.sumOfHighest(...all, 1) >= kernel.sumOfHighest(...all, -1) ? 1 : -1;
  const sum = kernel.highestPath(...all, sign, fastest, scores, next, leading, cameFrom, path);
  return {
    delays: Array.from(new Uint32Array(buffer, path, count), (place) => least + place),
    height: sum / count,
  };
}
