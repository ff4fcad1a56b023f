import type { Repair } from '../schema/repair.ts';

/**
 * A repair that only picks, copies or reorders channels at 0 dB is written by moving
 * sample words.
 * @returns for each output file the input channel (from 0) of each of its channels, or null
 *   where samples must be calculated
 */
export function exactPlan(repair: Repair): number[][] | null {
  const trimmed = repair.trims.some((trim) => trim.gainDb !== 0 || trim.polarity === 'inverted' || trim.delaySamples !== 0);
  if (trimmed || repair.level) return null;
  const copies = repair.outputs.every((output) => output.routes.every((route) => route.length === 1 && route[0].gainDb === 0));
  if (!copies) return null;
  return repair.outputs.map((output) => output.routes.map((route) => route[0].from - 1));
}
