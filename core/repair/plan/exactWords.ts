import type { WrittenFile } from '../../schema/receipt.ts';
import { sayNumber } from '../../signal/sayDecibels.ts';

/** What was proven of a written file, in words that go into a sentence: "exact but for 3 fades of 10 ms". */
export function exactWords(
  { exact, exactOutside }: Pick<WrittenFile, 'exact' | 'exactOutside'>,
  sampleRate: number,
): string {
  if (exact) return 'every sample is one that was read';
  if (exactOutside === null) return 'calculated, read back and compared';
  const lengths = exactOutside.map(({ startFrame, endFrame }) => (1000 * (endFrame - startFrame)) / sampleRate);
  const longest = Math.max(...lengths);
  const count = lengths.length === 1 ? 'a fade' : `${lengths.length} fades`;
  const most = lengths.every((ms) => ms === longest) ? '' : 'at most ';
  return `exact but for ${count} of ${most}${sayNumber(longest, Number.isInteger(longest) ? 0 : 1)} ms`;
}
