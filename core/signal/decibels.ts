/** Amplitude ratio (0 or more) to decibels. Zero gives -Infinity. */
export function dbFromAmplitude(amplitude: number): number {
  return 20 * Math.log10(amplitude);
}

/** Power ratio or mean square (0 or more) to decibels. Zero gives -Infinity. */
export function dbFromPower(power: number): number {
  return 10 * Math.log10(power);
}

export function amplitudeFromDb(db: number): number {
  return 10 ** (db / 20);
}

export function powerFromDb(db: number): number {
  return 10 ** (db / 10);
}

/**
 * A gain in decibels as a linear factor. 0 dB gives exactly 1, so that a plan
 * that changes nothing multiplies by nothing.
 */
export function gainFactor(gainDb: number): number {
  return gainDb === 0 ? 1 : amplitudeFromDb(gainDb);
}
