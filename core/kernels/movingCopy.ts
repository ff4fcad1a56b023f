import { instantiateKernel } from './instantiateKernel.ts';
import { memoryFor } from './kernelMemory.ts';
import { movingCopyWasm } from './movingCopy.wasm.ts';

interface MovingCopyExports {
  derivative(sound: number, count: number, out: number): void;
  follow(...[reference, slope, table, taps, steps, delays, places, step, count, copy, bend]: number[]): void;
  products(reference: number, copy: number, other: number, count: number, out: number): void;
  powerLeft(...[reference, copy, other, count, direct, moving]: number[]): number;
  stepEquations(
    ...[reference, copy, bend, other, count, direct, moving, places, step, diagonal, beside, right]: number[]
  ): void;
}

const VALUE_BYTES = 8;

/** Of the reference a, its copy b and the other x: aa, ab, bb, ax, bx. */
export type Products = [aa: number, ab: number, bb: number, ax: number, bx: number];

/** Normal equations that are 0 but on and beside their diagonal. */
export interface StepEquations {
  diagonal: Float64Array;
  /** Between each place and the next. */
  beside: Float64Array;
  right: Float64Array;
}

export interface MovingCopyShape {
  /** Of a stretch with its margins. */
  soundLength: number;
  /** Samples before and after what is looked at: more than the longest delay and half the taps. */
  margin: number;
  /** Where delays are told, from the first sample that is looked at on, and how many samples apart. */
  places: number;
  step: number;
  /** Weights for each place between a sample and the next, row by row, an even number each. */
  table: { taps: Float64Array; taken: number; steps: number };
}

/** A reference, its copy whose delay moves, and the other sound that holds both; of one stretch at a time. */
export class MovingCopy {
  private readonly kernel: MovingCopyExports;
  private readonly count: number;
  private readonly reference: Float64Array;
  private readonly slope: Float64Array;
  private readonly other: Float64Array;
  private readonly copied: Float64Array;
  private readonly bend: Float64Array;
  private readonly table: Float64Array;
  private readonly delays: Float64Array;
  private readonly sums: Float64Array;
  private readonly equations: Float64Array[];

  constructor(private readonly shape: MovingCopyShape) {
    const { soundLength, margin, places, table } = shape;
    this.count = soundLength - 2 * margin;
    const { memory, places: at } = memoryFor([
      ...[soundLength, soundLength, soundLength, this.count, this.count, table.taps.length, places, 5],
      ...[places, places, places],
    ]);
    [this.reference, this.slope, this.other, this.copied, this.bend, this.table, this.delays, this.sums] = at;
    this.equations = at.slice(-3);
    this.table.set(table.taps);
    this.kernel = instantiateKernel<MovingCopyExports>(movingCopyWasm, memory);
  }

  /** @param reference both with a margin at either end */
  take(reference: Float64Array, other: Float64Array): void {
    this.reference.set(reference);
    this.other.set(other);
    this.kernel.derivative(this.reference.byteOffset, reference.length, this.slope.byteOffset);
  }

  /** Reads the reference so many samples earlier, told at each place: the copy, for what comes next. */
  follow(delays: readonly number[]): void {
    const { places, step, table } = this.shape;
    this.delays.set(delays);
    this.kernel.follow(
      ...[this.inside(this.reference), this.inside(this.slope), this.table.byteOffset, table.taken, table.steps],
      ...[this.delays.byteOffset, places, step, this.count, this.copied.byteOffset, this.bend.byteOffset],
    );
  }

  /** The copy as it was last read, without a margin. */
  copy(): Float64Array {
    return this.copied.slice();
  }

  products(): Products {
    this.kernel.products(...this.sounds(), this.count, this.sums.byteOffset);
    return Array.from(this.sums) as Products;
  }

  /** What is left of the other's power with both taken off. */
  powerLeft(direct: number, moving: number): number {
    return this.kernel.powerLeft(...this.sounds(), this.count, direct, moving);
  }

  /** The normal equations of a step of each delay that leaves less (Gauss and Newton). */
  stepEquations(direct: number, moving: number): StepEquations {
    const { places, step } = this.shape;
    const [diagonal, beside, right] = this.equations;
    const [reference, copy, other] = this.sounds();
    this.kernel.stepEquations(
      ...[reference, copy, this.bend.byteOffset, other, this.count, direct, moving, places, step],
      ...[diagonal.byteOffset, beside.byteOffset, right.byteOffset],
    );
    return { diagonal, beside, right };
  }

  private sounds(): [reference: number, copy: number, other: number] {
    return [this.inside(this.reference), this.copied.byteOffset, this.inside(this.other)];
  }

  private inside(sound: Float64Array): number {
    return sound.byteOffset + this.shape.margin * VALUE_BYTES;
  }
}
