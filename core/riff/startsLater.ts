import { BEXT } from './bext.ts';
import type { KeptChunk } from './wavFrame.ts';

/** Cue points and their labels, loops, edit decisions and play lists. */
const POINTS_INTO_SOUND = new Set(['cue ', 'LIST', 'smpl', 'plst', 'acid', 'strc', 'axml', 'r64m', 'SMED', 'umid']);

/** The chunks of a source for a stretch of it that starts at a sample after midnight: those that point at places in the sound do not fit any more. */
export function startsLater(kept: readonly KeptChunk[], startSamples: number): KeptChunk[] {
  return kept.flatMap(({ id, body }): KeptChunk[] => {
    if (id === 'bext') return [{ id, body: bextAt(body, startSamples) }];
    if (id === 'iXML') return [{ id, body: ixmlAt(body, startSamples) }];
    return POINTS_INTO_SOUND.has(id) ? [] : [{ id, body }];
  });
}

function bextAt(bext: Uint8Array, startSamples: number): Uint8Array {
  if (bext.length < BEXT.timeReference.at + BEXT.timeReference.bytes) return bext;
  const copy = bext.slice();
  new DataView(copy.buffer).setBigUint64(BEXT.timeReference.at, BigInt(startSamples), true);
  return copy;
}

/** iXML has the start in two halves of 32 bits. */
function ixmlAt(ixml: Uint8Array, startSamples: number): Uint8Array {
  const text = new TextDecoder('utf-8').decode(ixml);
  const put = (from: string, half: 'HI' | 'LO', value: number): string =>
    from.replace(
      new RegExp(`(<TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_${half}>)[^<]*(</)`),
      (_, open: string, close: string) => `${open}${value}${close}`,
    );
  const high = put(text, 'HI', Math.floor(startSamples / 2 ** 32));
  return new TextEncoder().encode(put(high, 'LO', startSamples % 2 ** 32));
}
