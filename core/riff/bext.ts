import type { ClipFacts } from '../schema/clipFacts.ts';
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
export function madeBext({ note, recorder, recordedAt, startSamples }: ClipFacts): Uint8Array {
  const bext = new Uint8Array(BEXT.fixedBytes);
  write(bext, BEXT.description, note ?? '');
  write(bext, BEXT.originator, recorder ?? '');
  write(bext, BEXT.date, recordedAt?.slice(0, 10) ?? '');
  write(bext, BEXT.time, recordedAt?.slice(11, 19) ?? '');
  const view = new DataView(bext.buffer);
  view.setBigUint64(BEXT.timeReference.at, BigInt(startSamples ?? 0), true);
  view.setUint16(BEXT.version.at, 1, true);
  return bext;
}

// Recorders without iXML name their tracks in the description, a line each: "sTRK2=boom".
const TRACK_LINE = /^(\w?TRK)(\d+)=(.*)$/;

/** The chunk with those track lines of its description that follow the routes; anything else stays as it was. */
export function withDescribedTracks(bext: Uint8Array, tracks: WrittenTrack[]): Uint8Array {
  const text = new TextDecoder('utf-8').decode(bext.subarray(0, BEXT.description.bytes)).split('\0')[0];
  const lines = text.split(/\r?\n/);
  const named = lines.map((line) => TRACK_LINE.exec(line)).filter((match) => match !== null);
  if (named.length === 0) return bext;
  const [, prefix] = named[0];
  const written = tracks.flatMap(({ name }, i) => (name === null ? [] : [`${prefix}${i + 1}=${name}`]));
  const corrected = bext.slice();
  write(
    corrected,
    BEXT.description,
    [...lines.filter((line) => !TRACK_LINE.test(line) && line !== ''), ...written].join('\r\n'),
  );
  return corrected;
}

/** Text in a field of fixed length, ended by zeros, never in the middle of a letter. */
function write(bext: Uint8Array, { at, bytes }: { at: number; bytes: number }, text: string): void {
  bext.fill(0, at, at + bytes);
  new TextEncoder().encodeInto(text, bext.subarray(at, at + bytes));
}
