import type { Intake, Setup } from '@pocket-twin/core/schema/setup.ts';

export const INTAKES: Record<Intake, string> = {
  'stereo-pair': 'one stereo pair',
  'separate-monos': 'separate monos',
  surround: 'surround',
};

/** How the edit takes a setup's material, and who says so. */
export function intakeWords({ intake, intakeDecided }: Pick<Setup, 'intake' | 'intakeDecided'>): string {
  return intakeDecided ? `taken in as ${INTAKES[intake]}` : `would be taken in as ${INTAKES[intake]}`;
}
