import { powerOf } from '../../signal/power.ts';
import { nearestPowerOfTwo } from '../../signal/spectrum.ts';
import { CrossSpectrumMeter, type CrossSpectrum } from '../spectra/crossSpectrum.ts';
import { truePauses, within, type MatchInput, type StretchSound } from './matchInput.ts';

const SPECTRUM_SECONDS = 0.085;
// How far a quiet stretch is raised: further, and its noise would count for more than its sound.
const MOST_RAISED = 4;

export interface WholeBand {
  spectrum: CrossSpectrum;
  /** Of the pauses; null where there are none. */
  noise: CrossSpectrum | null;
}

/** Of stretches and pauses at a higher rate, with nothing around them and the right side moved to the left already. Scales the sounds it is given in place. */
export function wholeBandOf(active: StretchSound[], quiet: StretchSound[], sampleRate: number): WholeBand {
  const pauses = truePauses(active, quiet);
  makeEquallyLoud({ active, pauses });
  const spectrum = (sounds: StretchSound[]): CrossSpectrum => spectrumOf({ sampleRate, margin: 0 }, sounds, 0).spectrum;
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
  const meter = new CrossSpectrumMeter(sampleRate, size);
  const apart = sounds.map(({ left, right }) => meter.push(within(left, margin), within(right, margin, lag)));
  return { spectrum: meter.finish(), apart };
}

/**
 * Brings the stretches to one level, so that a single loud source cannot speak for all the rest, and the
 * pauses to the level that the noise then has on average.
 */
export function makeEquallyLoud({ active, pauses }: Pick<MatchInput, 'active' | 'pauses'>): void {
  const powers = active.map(({ left, right }) => powerOf(left) + powerOf(right));
  const mean = powers.reduce((sum, power) => sum + power, 0) / powers.length;
  const factors = powers.map((power) => (power > 0 ? Math.min(MOST_RAISED, Math.sqrt(mean / power)) : 1));
  const quietFactor = Math.sqrt(factors.reduce((sum, factor) => sum + factor * factor, 0) / factors.length);
  active.forEach((sound, i) => multiply(sound, factors[i]));
  for (const sound of pauses) multiply(sound, quietFactor);
}

function multiply({ left, right }: StretchSound, factor: number): void {
  for (const side of [left, right]) for (let i = 0; i < side.length; i++) side[i] *= factor;
}
