/** Something bytes can be read from at any place: a file on Node, a Blob in a browser. */
export interface ByteSource {
  size: number;
  /** Gives fewer bytes than asked for only at the end. */
  read(offset: number, length: number): Promise<Uint8Array>;
}

export function ascii(bytes: Uint8Array, start: number, length: number): string {
  return String.fromCharCode(...bytes.subarray(start, start + length));
}

export function asciiBytes(text: string): Uint8Array {
  return Uint8Array.from(text, (letter) => letter.charCodeAt(0));
}
