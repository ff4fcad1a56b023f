/** Reads frames of some channels (from 1); zeros where the clip has none. */
export type SoundReader = (startFrame: number, frames: number, channels: number[]) => Promise<Float64Array[]>;
