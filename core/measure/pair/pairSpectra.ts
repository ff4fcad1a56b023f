import { multiplied } from '../../kernels/stretchSums.ts';
import { nearestPowerOfTwo } from '../../signal/spectrum.ts';
import { crossSpectrumOf, type CrossSpectrum } from '../spectra/crossSpectrum.ts';
import type { SoundRoom } from '../soundRoom.ts';
import { levelled, truePauses, within, type LevelledSound, type MatchInput, type StretchSound } from './matchInput.ts';

const SPECTRUM_SECONDS = 0.085;
// How far a quiet stretch is raised: further, and its noise would count for more than its sound.
const MOST_RAISED = 4;

export interface WholeBand {
  spectrum: CrossSpectrum;
  /** Of the pauses; null where there are none. */
  noise: CrossSpectrum | null;
}

/** Of stretches and pauses at a higher rate, with nothing around them and the right side moved to the left already. */
export function wholeBandOf(
  sounds: { active: StretchSound[]; quiet: StretchSound[] },
  sampleRate: number,
  room: SoundRoom,
): WholeBand {
  const [loud, quiet] = [sounds.active, sounds.quiet].map((some) => some.map(levelled));
  const { active, pauses } = equallyLoud({ active: loud, pauses: truePauses(loud, quiet) }, room);
  const spectrum = (some: StretchSound[]): CrossSpectrum => spectrumOf({ sampleRate, margin: 0 }, some, 0).spectrum;
  return { spectrum: spectrum(active), noise: pauses.length > 0 ? spectrum(pauses) : null };
}

/** Of some stretches, with the right side so many samples earlier; and what of each no filter brings into agreement. */
export function spectrumOf(
  { sampleRate, margin }: Pick<MatchInput, 'sampleRate' | 'margin'>,
  sounds: StretchSound[],
  lag: number,
): { spectrum: CrossSpectrum; apart: number[] } {
  const length = sounds[0].left.length - 2 * margin;
  const size = Math.min(nearestPowerOfTwo(SPECTRUM_SECONDS * sampleRate), 2 ** Math.floor(Math.log2(length)));
  return crossSpectrumOf(
    sounds.map(({ left, right }) => [within(left, margin), within(right, margin, lag)] as const),
    sampleRate,
    size,
  );
}

/**
 * The stretches at one level, so that a single loud source cannot speak for all the rest, and the
 * pauses at the level that the noise then has on average.
 * @param room where they lie
 */
export function equallyLoud(
  { active, pauses }: { active: LevelledSound[]; pauses: LevelledSound[] },
  room: SoundRoom,
): { active: StretchSound[]; pauses: StretchSound[] } {
  const powers = active.map(({ powers: [left, right] }) => left + right);
  const mean = powers.reduce((sum, power) => sum + power, 0) / powers.length;
  const factors = powers.map((power) => (power > 0 ? Math.min(MOST_RAISED, Math.sqrt(mean / power)) : 1));
  const quietFactor = Math.sqrt(factors.reduce((sum, factor) => sum + factor * factor, 0) / factors.length);
  const times = ({ startFrame, left, right }: StretchSound, factor: number): StretchSound => ({
    startFrame,
    left: multiplied(left, factor, room.take(left.length)),
    right: multiplied(right, factor, room.take(right.length)),
  });
  return {
    active: active.map((sound, i) => times(sound, factors[i])),
    pauses: pauses.map((sound) => times(sound, quietFactor)),
  };
}
