import type { ClipSums } from './clipSums.ts';

/**
 * The sums of a clip whose channels are another's, moved or copied and nothing else: to the digit those that metering it would give, as each is a sum
 * over the same samples in the same order.
 * @param inputs for each channel of the new clip the old one's, from 0
 * @returns null where a pair comes together that was none before: what its sides have in common nobody has added up
 */
export function movedSums(sums: ClipSums, inputs: readonly number[]): ClipSums | null {
  // Which channel they were in is not known.
  if (sums.notFinite > 0) return null;
  const pairs: ClipSums['pairs'] = [];
  for (let left = 0; left + 1 < inputs.length; left += 2) {
    const pair = pairOf(sums, inputs[left], inputs[left + 1]);
    if (pair === null) return null;
    pairs.push(pair);
  }
  return { ...sums, channels: inputs.map((input) => sums.channels[input]), pairs };
}

function pairOf({ channels, pairs }: ClipSums, left: number, right: number): ClipSums['pairs'][number] | null {
  if (left === right) {
    const { power, speech } = channels[left];
    return { products: power, speechProducts: speech, differences: new Float64Array(power.length) };
  }
  // Whichever way round: products and differences have no side.
  const isPair = Math.floor(left / 2) === Math.floor(right / 2);
  return isPair ? (pairs[Math.floor(left / 2)] ?? null) : null;
}
