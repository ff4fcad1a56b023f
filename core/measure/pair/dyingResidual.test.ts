import { gaussians } from '../../kernels/gaussians.ts';
import { dyingResidualDb, type Foretold } from './dyingResidual.ts';

const RATE = 24_000;
const SECONDS = 6;
const SYLLABLE_SECONDS = 0.3;
const SOUNDS_SECONDS = 0.15;
const FALL_SECONDS = 0.03;

/** Of a syllable: it sets in at once, and dies away. */
function envelope(i: number, fallSeconds: number): number {
  const since = (i / RATE) % SYLLABLE_SECONDS;
  return since < SOUNDS_SECONDS ? 1 : Math.exp(-(since - SOUNDS_SECONDS) / fallSeconds);
}

const sound = gaussians(SECONDS * RATE, 0.1, 1);
const other = gaussians(SECONDS * RATE, 0.1, 2);
const target = sound.map((x, i) => x * envelope(i, FALL_SECONDS));
const quiet = (seed: number, level: number): Float64Array => gaussians(RATE, level, seed);
const NO_PAUSES: Foretold[] = [];

test('what follows the voice leaves as much of what dies away', () => {
  const residual = other.map((x, i) => 0.1 * x * envelope(i, FALL_SECONDS));
  expect(dyingResidualDb([{ target, residual }], NO_PAUSES, RATE)).toBeCloseTo(0, 0);
});

test('what goes on leaves more: by how much longer it takes', () => {
  const left = (fallSeconds: number): number =>
    dyingResidualDb([{ target, residual: other.map((x, i) => 0.1 * x * envelope(i, fallSeconds)) }], NO_PAUSES, RATE)!;
  expect(left(0.05)).toBeGreaterThan(3);
  expect(left(0.1)).toBeGreaterThan(left(0.05) + 2);
});

test('noise that both hear in the pauses is no part of it', () => {
  const level = 0.002;
  const noise = gaussians(SECONDS * RATE, level, 3);
  const noisy = target.map((x, i) => x + noise[i]);
  const residual = other.map((x, i) => 0.1 * x * envelope(i, FALL_SECONDS) + noise[i]);
  const pauses = [{ target: quiet(4, level), residual: quiet(4, level) }];
  expect(Math.abs(dyingResidualDb([{ target: noisy, residual }], pauses, RATE)!)).toBeLessThan(1);
});

test('what neither sets in nor dies away tells nothing', () => {
  expect(dyingResidualDb([{ target: sound, residual: other }], NO_PAUSES, RATE)).toBeNull();
});
