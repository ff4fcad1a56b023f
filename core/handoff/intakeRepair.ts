import { fillFrom, leaveAsItIs, splitToMonos } from '../repair/plan/plans.ts';
import type { Repair } from '../schema/repair.ts';
import type { Intake } from '../schema/setup.ts';

const SURROUND_CHANNELS = 6;

/**
 * What a setup's intake rule makes of a clip that needs no repair of its own; null where it is as the rule wants it already, or cannot be made so
 * without a decision. @param layout what its file calls its channels; null where it does not say
 */
export function intakeRepair(intake: Intake, channels: number, layout: string | null): Repair | null {
  if (intake === 'separate-monos') return channels > 1 ? splitToMonos(channels) : null;
  // Mono material goes to both sides at the level it had.
  if (intake === 'stereo-pair') return channels === 1 ? fillFrom(1, 1) : null;
  if (channels !== SURROUND_CHANNELS || layout?.startsWith('5.1')) return null;
  const plain = leaveAsItIs(channels);
  return { ...plain, action: 'route', outputs: [{ ...plain.outputs[0], layout: '5.1' }] };
}
