import { asciiBytes } from '../riff/byteSource.ts';

/** A box of a file after ISO/IEC 14496-12, 4.2 (QuickTime calls it an atom), within bytes that are at hand. */
export interface Box {
  type: string;
  /** Of what it holds, after its size and type of eight bytes. */
  start: number;
  end: number;
}

export const BOX_HEAD_BYTES = 8;

/** The boxes in a box, up to the first that makes no sense. */
export function childrenOf(view: DataView, { start, end }: Box): Box[] {
  const boxes: Box[] = [];
  for (let at = start; at + BOX_HEAD_BYTES <= end;) {
    const bytes = view.getUint32(at);
    if (bytes < BOX_HEAD_BYTES || at + bytes > end) break;
    const type = String.fromCharCode(...Array.from({ length: 4 }, (_, i) => view.getUint8(at + 4 + i)));
    boxes.push({ type, start: at + BOX_HEAD_BYTES, end: at + bytes });
    at += bytes;
  }
  return boxes;
}

export function childOf(view: DataView, box: Box, type: string): Box | undefined {
  return childrenOf(view, box).find((child) => child.type === type);
}

/** A box as it stands in a file, of less than 4 GiB. */
export function madeBox(type: string, parts: readonly Uint8Array[]): Uint8Array {
  const head = new Uint8Array(BOX_HEAD_BYTES);
  head.set(asciiBytes(type), 4);
  const whole = joined([head, ...parts]);
  new DataView(whole.buffer).setUint32(0, whole.length);
  return whole;
}

export function joined(parts: readonly Uint8Array[]): Uint8Array {
  const whole = new Uint8Array(parts.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const part of parts) {
    whole.set(part, at);
    at += part.length;
  }
  return whole;
}
