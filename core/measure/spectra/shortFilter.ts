import { emptyEquations, type FilterExample } from '../../kernels/leastSquares.ts';
import { powerOf } from '../../kernels/stretchSums.ts';

export interface ShortFilter {
  /** Tap i weighs the source sample i places on from the first that reaches into the target sample. */
  taps: Float64Array;
  /** Mean square of the target, and of what is left of it. */
  targetPower: number;
  residualPower: number;
  /** The same two in the pauses; 0 where there are none. */
  pauseTargetPower: number;
  pauseResidualPower: number;
}

// Bands in which the source has almost nothing (above a codec's limit) must not get huge gains.
const REGULARISATION = 1e-8;

/**
 * The least-squares filter that foretells target from source: covariance normal equations summed over
 * all examples, solved once (S. Haykin, "Adaptive Filter Theory", the method of least squares).
 * @param taps a multiple of sixteen
 */
export function fitShortFilter(examples: FilterExample[], pauses: FilterExample[], taps: number): ShortFilter {
  const longest = Math.max(...[...examples, ...pauses].map(({ target }) => target.length));
  const equations = emptyEquations(taps, longest, examples.length);
  equations.add(examples);
  const { filter, explained } = equations.solve(REGULARISATION);
  const frames = framesIn(examples);
  const squares = squaresIn(examples);
  let residual = 0;
  for (const { source, target } of pauses) residual += equations.residualSquares(source, target)[0];
  const pauseFrames = Math.max(1, framesIn(pauses));
  return {
    taps: filter,
    targetPower: squares / frames,
    residualPower: Math.max(0, squares - explained) / frames,
    pauseTargetPower: squaresIn(pauses) / pauseFrames,
    pauseResidualPower: residual / pauseFrames,
  };
}

function framesIn(examples: FilterExample[]): number {
  return examples.reduce((sum, { target }) => sum + target.length, 0);
}

function squaresIn(examples: FilterExample[]): number {
  return examples.reduce((sum, { target }) => sum + powerOf(target) * target.length, 0);
}
