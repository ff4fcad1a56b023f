import type { ClipPart } from '@pocket-twin/core/measure/stream/clipParts.ts';
import type { SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';
import type { WavLayout } from '@pocket-twin/core/riff/readWav.ts';
import type { ClipFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import type { ClipFormat } from '@pocket-twin/core/schema/inspection.ts';

/** A recording opened for reading from its first frame to its last. */
export interface Source {
  path: string;
  name: string;
  format: ClipFormat;
  facts: ClipFacts;
  /** How the words in `runs` are stored. */
  words: SampleFormat;
  /** The chunks of a WAV; null for all else. */
  wav: WavLayout | null;
  /** What its decoded words will take on the disk, where the container says how long it is; 0 where they are read as they lie. */
  expectedBytes: number;
  /**
   * Whole frames of interleaved words, a run at a time. A run is only valid until the next one.
   * After the last, `format.frames` and `format.warning` are what was really there.
   * A WAV can be read in parts, of which the end may come sooner meanwhile, and into `buffers` by turns; all else is decoded from its start.
   */
  runs(part: Pick<ClipPart, 'readFrame' | 'endFrame'>, buffers: Uint8Array[]): AsyncGenerator<Uint8Array>;
  close(): Promise<void>;
}
