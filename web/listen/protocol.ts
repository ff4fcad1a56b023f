import type { LiveReading } from '@pocket-twin/core/measure/live/liveMeter.ts';
import type { Heard, When } from '@pocket-twin/core/repair/run/listening.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';

/** Samples travel in chunks of this many frames. */
export const CHUNK_FRAMES = 32768;
/** How many chunks are asked for ahead of what plays. */
export const CHUNKS_AHEAD = 4;

export type ToWorklet =
  | { kind: 'chunk'; index: number; channels: Float32Array[] }
  | { kind: 'play'; on: boolean }
  | { kind: 'seek'; frame: number }
  | { kind: 'hear'; heard: Heard; when: When }
  | { kind: 'repair'; repair: Repair };

export type FromWorklet =
  | { kind: 'want'; index: number }
  | { kind: 'state'; frame: number; playing: boolean; waiting: boolean; reading: LiveReading };

export interface WorkletOptions {
  channels: number;
  frames: number;
}
