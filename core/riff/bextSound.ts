import { BEXT } from './bext.ts';

// What a `bext` chunk says of the very sound that it is stored with (EBU Tech 3285, version 1: a UMID after SMPTE ST 330; version 2: loudness).

const UMID = { at: 348, bytes: 64 } as const;
const BASIC_UMID_BYTES = 32;
const LOUDNESS = { value: 412, range: 414, truePeak: 416, momentary: 418, shortTerm: 420, end: 422 } as const;
const NOT_SAID = 0x7fff;
/** SMPTE ST 330: the label of a basic UMID whose material is a single sound component, made without a known scheme for its number; then its length. */
const UMID_HEAD = [0x06, 0x0a, 0x2b, 0x34, 0x01, 0x01, 0x01, 0x05, 0x01, 0x01, 0x02, 0x20, 0x13, 0, 0, 0];

/** The UMID in hexadecimal digits; null where there is none. */
export function umidOf(bext: Uint8Array): string | null {
  if (bext.length < UMID.at + UMID.bytes) return null;
  const umid = bext.subarray(UMID.at, UMID.at + BASIC_UMID_BYTES);
  return umid.some((byte) => byte !== 0) ? [...umid].map((byte) => byte.toString(16).padStart(2, '0')).join('') : null;
}

/** The same chunk for other sound, which is other material. @param number 16 bytes that nothing else has */
export function withNewUmid(bext: Uint8Array, number: Uint8Array): Uint8Array {
  const copy = bext.slice();
  copy.fill(0, UMID.at, UMID.at + UMID.bytes);
  copy.set(UMID_HEAD, UMID.at);
  copy.set(number.subarray(0, 16), UMID.at + UMID_HEAD.length);
  return copy;
}

/** Whether the chunk says how loud its sound is. */
export function saysLoudness(bext: Uint8Array): boolean {
  if (bext.length < LOUDNESS.end) return false;
  const view = new DataView(bext.buffer, bext.byteOffset, bext.byteLength);
  if (view.getUint16(BEXT.version.at, true) < 2) return false;
  const fields = [LOUDNESS.value, LOUDNESS.range, LOUDNESS.truePeak, LOUDNESS.momentary, LOUDNESS.shortTerm];
  return fields.some((at) => ![0, NOT_SAID].includes(view.getInt16(at, true)));
}

/** The same chunk with what was measured of other sound; what was not is not said. */
export function withLoudness(
  bext: Uint8Array,
  { loudnessLufs, truePeakDbtp }: { loudnessLufs: number; truePeakDbtp: number },
): Uint8Array {
  const copy = bext.slice();
  const view = new DataView(copy.buffer);
  // In hundredths; silence has neither.
  const hundredths = (value: number): number => (Number.isFinite(value) ? Math.round(100 * value) : NOT_SAID);
  view.setInt16(LOUDNESS.value, hundredths(loudnessLufs), true);
  view.setInt16(LOUDNESS.truePeak, hundredths(truePeakDbtp), true);
  for (const at of [LOUDNESS.range, LOUDNESS.momentary, LOUDNESS.shortTerm]) view.setInt16(at, NOT_SAID, true);
  return copy;
}
