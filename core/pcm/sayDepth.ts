/** How samples are stored, for people: "24-bit", "32-bit float"; the codec's name where it has no depth. */
export function sayDepth(codec: string, bitDepth: number | null): string {
  if (bitDepth === null) return codec.toUpperCase();
  return codec.startsWith('pcm_f') ? `${bitDepth}-bit float` : `${bitDepth}-bit`;
}
