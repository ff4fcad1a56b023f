import { ascii, type ByteSource } from './byteSource.ts';

/** What a header says of its sound and what the file shows instead. */
export interface DataExtent {
  /** Bytes of sound that the header promises, mended where only one reading is possible. */
  bytes: number;
  /** The size is one that went past 2^32 and began again at 0, as 32 bits hold no more. */
  wrapped: boolean;
  /** Bytes behind the sound that are no chunks. */
  strayBytes: number;
}

const UNFINISHED = 0xffffffff;
const WRAP_BYTES = 2 ** 32;
const MOST_CHUNKS = 1000;
// Less than a chunk's head: padding, or what a copy left over.
const SLACK_BYTES = 8;

/**
 * How far the sound of a WAV reaches: the size in its header held against the file and against the chunks that follow.
 * @param body where the sound begins
 * @param declared what the header says; 0 and 2^32 - 1 are what recorders leave when the power goes
 * @param mayWrap whether the size is one of 32 bits (RIFF) and not of 64 (RF64, BW64)
 */
export async function dataExtent(
  source: ByteSource,
  body: number,
  declared: number,
  mayWrap: boolean,
): Promise<DataExtent> {
  const present = source.size - body;
  const sure = (bytes: number): DataExtent => ({ bytes, wrapped: false, strayBytes: 0 });
  if (declared === UNFINISHED) return sure(present);
  // Nothing, and chunks up to the end of the file: then it really is nothing. Else a header that was never filled in.
  if (declared === 0) return sure(present >= SLACK_BYTES && (await chunksReachTheEnd(source, body)) ? 0 : present);
  if (declared >= present || (await chunksReachTheEnd(source, body + padded(declared)))) return sure(declared);
  if (mayWrap) {
    for (
      let bytes = declared + Math.floor((present - declared) / WRAP_BYTES) * WRAP_BYTES;
      bytes > declared;
      bytes -= WRAP_BYTES
    ) {
      if (await chunksReachTheEnd(source, body + padded(bytes))) return { bytes, wrapped: true, strayBytes: 0 };
    }
  }
  return { bytes: declared, wrapped: false, strayBytes: present - declared };
}

export function padded(bytes: number): number {
  return bytes + (bytes % 2);
}

/** Whether chunk follows on chunk from a place to the end of the file. */
async function chunksReachTheEnd(source: ByteSource, from: number): Promise<boolean> {
  let offset = from;
  for (let count = 0; source.size - offset >= SLACK_BYTES; count++) {
    const head = await source.read(offset, 8);
    if (count === MOST_CHUNKS || !/^[\x20-\x7e]{4}$/.test(ascii(head, 0, 4))) return false;
    offset += 8 + padded(new DataView(head.buffer, head.byteOffset).getUint32(4, true));
  }
  return offset <= source.size + 1;
}
