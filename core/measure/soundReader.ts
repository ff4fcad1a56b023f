/**
 * Reads frames of some channels (from 1); zeros where the clip has none.
 * @param into one of `frames` values for each channel, to be filled and given back; new ones without it
 */
export type SoundReader = (
  startFrame: number,
  frames: number,
  channels: number[],
  into?: readonly Float64Array[],
) => Promise<Float64Array[]>;
