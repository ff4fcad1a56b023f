import type { Intake } from '../schema/setup.ts';
import { majority, type SetupClip } from './setupClip.ts';

const SURROUND_LAYOUT = /^[5-9]\.\d/;

/**
 * How the edit should take a setup's material, by what its sound shows: music and ambience in true stereo stay pairs; voices on microphones of
 * their own, and what is mono in truth, become monos; a layout that its file calls surround stays together.
 */
export function proposeIntake(clips: Pick<SetupClip, 'channels' | 'layout' | 'verdict'>[]): Intake {
  if (majority(clips.map(({ layout }) => SURROUND_LAYOUT.test(layout ?? ''))) === true) return 'surround';
  const verdict = majority(clips.map((clip) => clip.verdict));
  return verdict === 'stereo' || verdict === 'changing' || verdict === 'silent' || verdict === null
    ? 'stereo-pair'
    : 'separate-monos';
}
