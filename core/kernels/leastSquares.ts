import { instantiateKernel } from './instantiateKernel.ts';
import { memoryFor } from './kernelMemory.ts';
import { lagProducts } from './lagProducts.ts';
import { leastSquaresWasm } from './leastSquares.wasm.ts';

interface LeastSquaresExports {
  addLagProducts(a: number, b: number, count: number, lags: number, out: number): void;
  fillProductMatrix(row: number, edges: number, edge: number, examples: number, size: number, matrix: number): void;
  solve(matrix: number, lower: number, right: number, size: number): void;
  residualSquares(source: number, target: number, count: number, filter: number, taps: number): number;
}

const VALUE_BYTES = 8;
// The kernel takes so many values at a time, over the end of a row too.
const AT_ONCE = 8;
// From so many on the sums of products by transforms take half as long as one after another.
const TRANSFORMED_TAPS = 128;

/** Two aligned signals: the filter's input with room around it, and what it should become. */
export interface FilterExample {
  /** `target.length + taps` samples: target sample n is foretold from source samples n to n + taps - 1. */
  source: Float64Array;
  target: Float64Array;
}

/** Gathers the normal equations of a filter from examples, and solves them. */
export class LeastSquares {
  private readonly kernel: LeastSquaresExports;
  private readonly source: Float64Array;
  private readonly target: Float64Array;
  private readonly firstRow: Float64Array;
  private readonly edges: Float64Array;
  private readonly crossed: Float64Array;
  private readonly filter: Float64Array;
  private readonly matrix: Float64Array;
  private readonly lower: Float64Array;
  private examples = 0;

  /**
   * @param taps a multiple of sixteen
   * @param longest samples in an example's target
   * @param mostExamples that are added
   */
  constructor(
    private readonly taps: number,
    private readonly longest: number,
    private readonly mostExamples: number,
  ) {
    const { memory, places } = memoryFor([
      ...[longest + taps + AT_ONCE, longest, taps + AT_ONCE, 2 * (taps + AT_ONCE) * mostExamples],
      ...[taps, taps, taps * taps + AT_ONCE, taps * taps],
    ]);
    [this.source, this.target, this.firstRow, this.edges, this.crossed, this.filter, this.matrix, this.lower] = places;
    this.kernel = instantiateKernel<LeastSquaresExports>(leastSquaresWasm, memory);
  }

  /** Whether there is room for so many examples of such a length. */
  hasRoomFor(longest: number, examples: number): boolean {
    return longest <= this.longest && examples <= this.mostExamples;
  }

  /** Forgets all examples. */
  clear(): void {
    this.firstRow.fill(0);
    this.crossed.fill(0);
    this.filter.fill(0);
    this.examples = 0;
  }

  /** Once, all of them. */
  add(examples: readonly FilterExample[]): void {
    const { taps } = this;
    const isLong = taps >= TRANSFORMED_TAPS;
    for (const { source, target } of examples) {
      this.hold(source, target);
      const x = this.source.byteOffset;
      if (!isLong) {
        this.kernel.addLagProducts(x, x, target.length, taps, this.firstRow.byteOffset);
        this.kernel.addLagProducts(this.target.byteOffset, x, target.length, taps, this.crossed.byteOffset);
      }
      const edge = taps + AT_ONCE;
      const at = 2 * edge * this.examples++;
      this.edges.set(this.source.subarray(0, edge), at);
      this.edges.set(this.source.subarray(target.length, target.length + edge), at + edge);
    }
    if (!isLong) return;
    const foretelling = examples.map(({ source, target }) => ({ a: source.subarray(0, target.length), b: source }));
    this.firstRow.set(lagProducts(foretelling, taps));
    this.crossed.set(
      lagProducts(
        examples.map(({ source, target }) => ({ a: target, b: source })),
        taps,
      ),
    );
  }

  /**
   * The filter, and the power of the targets it explains. Once, after all examples.
   * @param regularisation share of the source's mean power added to the diagonal
   */
  solve(regularisation: number): { filter: Float64Array; explained: number } {
    const { taps, matrix, crossed, filter } = this;
    this.kernel.fillProductMatrix(
      this.firstRow.byteOffset,
      this.edges.byteOffset,
      taps + AT_ONCE,
      this.examples,
      taps,
      matrix.byteOffset,
    );
    let trace = 0;
    for (let i = 0; i < taps; i++) trace += matrix[i * taps + i];
    if (trace === 0) return { filter: filter.slice(), explained: 0 };
    for (let i = 0; i < taps; i++) matrix[i * taps + i] += (regularisation * trace) / taps;
    filter.set(crossed);
    this.kernel.solve(matrix.byteOffset, this.lower.byteOffset, filter.byteOffset, taps);
    let explained = 0;
    for (let i = 0; i < taps; i++) explained += filter[i] * crossed[i];
    return { filter: filter.slice(), explained };
  }

  /** Sums of squares of what the solved filter leaves of other material, one for each `frame` samples of it. */
  residualSquares(source: Float64Array, target: Float64Array, frame = target.length): Float64Array {
    this.hold(source, target);
    return Float64Array.from({ length: Math.floor(target.length / frame) }, (_, i) => {
      const start = i * frame * VALUE_BYTES;
      return this.kernel.residualSquares(
        this.source.byteOffset + start,
        this.target.byteOffset + start,
        frame,
        this.filter.byteOffset,
        this.taps,
      );
    });
  }

  private hold(source: Float64Array, target: Float64Array): void {
    this.source.set(source);
    this.target.set(target);
  }
}

const kept = new Map<number, LeastSquares>();

/**
 * Equations without an example, in the memory of those before them where that is large enough: megabytes are long in being made and freed. For use within one
 * synchronous step. See the constructor for what they take.
 */
export function emptyEquations(taps: number, longest: number, mostExamples: number): LeastSquares {
  const old = kept.get(taps);
  if (old?.hasRoomFor(longest, mostExamples)) {
    old.clear();
    return old;
  }
  const equations = new LeastSquares(taps, longest, mostExamples);
  kept.set(taps, equations);
  return equations;
}
