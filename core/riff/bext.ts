import type { ClipFacts } from '../schema/clipFacts.ts';
import { describedTracks, namesTracks } from './describedTracks.ts';
import type { WrittenTrack } from './trackList.ts';

/** Where the fields of a `bext` chunk lie (EBU Tech 3285, version 1), in bytes. */
export const BEXT = {
  description: { at: 0, bytes: 256 },
  originator: { at: 256, bytes: 32 },
  date: { at: 320, bytes: 10 },
  time: { at: 330, bytes: 8 },
  timeReference: { at: 338, bytes: 8 },
  version: { at: 346, bytes: 2 },
  fixedBytes: 602,
} as const;

/** A `bext` chunk for a source that says when and where it starts, but not as a Broadcast Wave. */
export function madeBext({ note, recorder, recordedAt, startSamples, codingHistory }: ClipFacts): Uint8Array {
  const history = new TextEncoder().encode(codingHistory ?? '');
  const bext = new Uint8Array(BEXT.fixedBytes + history.length);
  bext.set(history, BEXT.fixedBytes);
  write(bext, BEXT.description, note ?? '');
  write(bext, BEXT.originator, recorder ?? '');
  write(bext, BEXT.date, recordedAt?.slice(0, 10) ?? '');
  write(bext, BEXT.time, recordedAt?.slice(11, 19) ?? '');
  const view = new DataView(bext.buffer);
  view.setBigUint64(BEXT.timeReference.at, BigInt(startSamples ?? 0), true);
  view.setUint16(BEXT.version.at, 1, true);
  return bext;
}

/** What a `bext` chunk says of the sound: in words, and when it begins in samples after midnight. */
export function bextTexts(bext: Uint8Array): { description: string; timeReference: bigint; codingHistory: string } {
  const description = new TextDecoder('utf-8').decode(bext.subarray(0, BEXT.description.bytes)).split('\0')[0];
  const codingHistory = new TextDecoder('latin1').decode(bext.subarray(BEXT.fixedBytes)).split('\0')[0];
  const view = new DataView(bext.buffer, bext.byteOffset, bext.byteLength);
  const isWhole = bext.length >= BEXT.timeReference.at + BEXT.timeReference.bytes;
  return { description, timeReference: isWhole ? view.getBigUint64(BEXT.timeReference.at, true) : 0n, codingHistory };
}

/** The chunk with those track lines of its description that follow the routes; anything else stays as it was. */
export function withDescribedTracks(bext: Uint8Array, tracks: WrittenTrack[]): Uint8Array {
  const { description: text } = bextTexts(bext);
  if (!namesTracks(text)) return bext;
  const corrected = bext.slice();
  write(corrected, BEXT.description, describedTracks(text, tracks));
  return corrected;
}

/** Text in a field of fixed length, ended by zeros, never in the middle of a letter. */
function write(bext: Uint8Array, { at, bytes }: { at: number; bytes: number }, text: string): void {
  bext.fill(0, at, at + bytes);
  new TextEncoder().encodeInto(text, bext.subarray(at, at + bytes));
}
