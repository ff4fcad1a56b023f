import type { SoundReader } from '../../measure/soundReader.ts';

const WINDOW_SECONDS = 0.001;
// Louder than this one side over the other says no more.
const MOST_RATIO_DB = 40;
// Below this a window has nothing to tell: the steps of 20 bits.
const NOTHING = 1e-12;
// A split that explains less of what is seen than this is luck: the boundary stays where it was.
const LEAST_EXPLAINED = 0.25;
// A difference of level of so many decibels counts as much as the whole way from alike to opposite.
const DECIBELS_A_STEP = 12;

/**
 * Where, near a boundary, one kind of stereo gives way to another, to a millisecond: the split of the level ratio and the correlation of the two
 * sides in short windows that leaves least of their variance (least squares; windows count by how much they hold).
 * @param searchSeconds how far to both sides it may lie
 * @returns a frame; the boundary itself where nothing changes there
 */
export async function placeChange(
  boundaryFrame: number,
  searchSeconds: number,
  sampleRate: number,
  read: SoundReader,
): Promise<number> {
  const window = Math.max(8, Math.round(WINDOW_SECONDS * sampleRate));
  const half = Math.round((2 * searchSeconds * sampleRate) / window);
  const first = boundaryFrame - half * window;
  const [left, right] = await read(first, 2 * half * window, [1, 2]);
  const seen = Array.from({ length: 2 * half }, (_, w) => look(left, right, w * window, (w + 1) * window));
  const loudest = Math.max(...seen.map(({ power }) => power));
  if (loudest <= NOTHING) return boundaryFrame;
  // Square root of the square root: a whisper counts a tenth of a shout.
  const weights = seen.map(({ power }) => Math.max(0.02, (power / loudest) ** 0.25));
  const features = [seen.map(({ ratioDb }) => ratioDb / DECIBELS_A_STEP), seen.map(({ correlation }) => correlation)];
  const total = features.reduce((sum, values) => sum + spread(values, weights, 0, values.length), 0);
  let best = { left: Infinity, at: half };
  for (let at = Math.round(half / 2); at <= Math.round(1.5 * half); at++) {
    const left = features.reduce(
      (sum, values) => sum + spread(values, weights, 0, at) + spread(values, weights, at, values.length),
      0,
    );
    if (left < best.left) best = { left, at };
  }
  return total > 0 && best.left < (1 - LEAST_EXPLAINED) * total ? first + best.at * window : boundaryFrame;
}

function look(left: Float64Array, right: Float64Array, from: number, to: number) {
  let ll = NOTHING;
  let rr = NOTHING;
  let lr = 0;
  for (let i = from; i < to; i++) {
    ll += left[i] * left[i];
    rr += right[i] * right[i];
    lr += left[i] * right[i];
  }
  const ratioDb = 10 * Math.log10(ll / rr);
  return {
    power: (ll + rr) / (to - from),
    ratioDb: Math.max(-MOST_RATIO_DB, Math.min(MOST_RATIO_DB, ratioDb)),
    correlation: lr / Math.sqrt(ll * rr),
  };
}

/** Weighted sum of squares about the mean. */
function spread(values: readonly number[], weights: readonly number[], from: number, to: number): number {
  let w = 0;
  let sum = 0;
  let squares = 0;
  for (let i = from; i < to; i++) {
    w += weights[i];
    sum += weights[i] * values[i];
    squares += weights[i] * values[i] * values[i];
  }
  return w > 0 ? Math.max(0, squares - (sum * sum) / w) : 0;
}
