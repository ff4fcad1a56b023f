// What the loops of one block share.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

/** Bytes of a frame of a pair: [left, right] as 64-bit floats. */
export const FRAME: usize = 16;

// Offsets into a pair's sums of one block.
export const SUM: usize = 0;
export const SQUARES: usize = 16;
export const PRODUCT: usize = 32;
export const DIFFERENCE_SQUARES: usize = 40;
export const WEIGHTED: usize = 48;
export const SPEECH: usize = 64;
export const SPEECH_PRODUCT: usize = 80;
export const CLIPPED_NOW: usize = 88; // a lane each
export const SUMS_BYTES: usize = 104;

// Into a pair's `scan` state.
export const TRUE_PEAK: usize = 160;

/** Frames in a bucket of the outline. */
export const BUCKET_FRAMES: u32 = 256;
