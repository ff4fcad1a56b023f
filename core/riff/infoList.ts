import { asciiBytes } from './byteSource.ts';

// A RIFF list of what a recording says of itself in words (Multimedia Programming Interface and Data Specifications 1.0, INFO).

/** By the names that FFmpeg gives tags. */
const NAMES: Record<string, string> = {
  title: 'INAM',
  artist: 'IART',
  comment: 'ICMT',
  date: 'ICRD',
  album: 'IPRD',
  genre: 'IGNR',
  track: 'IPRT',
  copyright: 'ICOP',
  language: 'ILNG',
};

/** The body of a LIST chunk with those tags that have a place in it; null where none has. @param tags by lower-case names */
export function madeInfoList(tags: Readonly<Record<string, string>>): Uint8Array | null {
  const parts: Uint8Array[] = [asciiBytes('INFO')];
  for (const [name, id] of Object.entries(NAMES)) {
    const text = tags[name]?.trim();
    if (!text) continue;
    const words = new TextEncoder().encode(`${text}\0`);
    const padded = new Uint8Array(8 + words.length + (words.length % 2));
    padded.set(asciiBytes(id));
    new DataView(padded.buffer).setUint32(4, words.length, true);
    padded.set(words, 8);
    parts.push(padded);
  }
  if (parts.length === 1) return null;
  const whole = new Uint8Array(parts.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const part of parts) {
    whole.set(part, at);
    at += part.length;
  }
  return whole;
}
