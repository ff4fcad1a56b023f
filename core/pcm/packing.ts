import { Refusal } from '../schema/refusal.ts';
import type { HandoffBits, HandoffFormat } from '../schema/handoff.ts';
import type { SampleFormat } from './sampleFormat.ts';

/** Containers that hold a WAV's words as they are. */
export type Packing = 'flac' | 'aiff';

/** What the sound is packed in; null is WAV, which holds everything. What is no WAV stays what it was unless something else is wanted. */
export function packingFor(format: HandoffFormat, container: string): Packing | null {
  if (format === 'flac' || format === 'aiff') return format;
  if (format === 'wav') return null;
  if (container === 'flac') return 'flac';
  return container === 'aiff' || container === 'aifc' ? 'aiff' : null;
}

/**
 * The words that are written: those of the source, unless others are wanted or the container has no room for them (FLAC as Debian's FFmpeg writes it
 * holds whole numbers of up to 24 bits). Whoever writes them dithers where they get shorter. @throws Refusal where it can't hold what is wanted
 */
export function outputWords(bits: HandoffBits, source: SampleFormat, packing: Packing | null): SampleFormat {
  if (packing === 'flac' && (bits === '32f' || bits === '32'))
    throw new Refusal('bad-request', 'FLAC holds whole numbers of up to 24 bits: choose 16 or 24, or WAV.');
  if (bits === '32f') return { kind: 'float', bits: 32 };
  if (bits !== 'same') return { kind: 'integer', bits: bits === '16' ? 16 : bits === '24' ? 24 : 32 };
  if (packing === 'flac' && (source.kind === 'float' || source.bits > 24)) return { kind: 'integer', bits: 24 };
  return source;
}
