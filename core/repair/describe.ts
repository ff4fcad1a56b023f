import type { Repair } from '../schema/repair.ts';

/** What a repair is called, everywhere it is named to a person. */
export function repairName(repair: Repair): string {
  const first = repair.outputs[0].routes[0][0].from;
  const stereo = repair.inputChannels === 2;
  switch (repair.action) {
    case 'leave': return 'Leave as it is';
    case 'fill':
      if (!stereo) return `Channel ${first} on both sides`;
      return first === 1 ? 'Fill right from left' : 'Fill left from right';
    case 'swap': return 'Swap sides';
    case 'select':
      if (!stereo) return `Channel ${first} only, as mono`;
      return first === 1 ? 'Left only, as mono' : 'Right only, as mono';
    case 'sum': return 'Sum to mono';
    case 'split': return `Split into ${repair.outputs.length === 2 ? 'two' : repair.outputs.length} mono files`;
    case 'trim': return trimName(repair);
  }
}

function trimName({ trims }: Repair): string {
  const parts = [
    trims.some(({ polarity }) => polarity === 'inverted') && 'Turn one side over',
    trims.some(({ delaySamples }) => delaySamples !== 0) && 'Line up the sides',
    trims.some(({ gainDb }) => gainDb !== 0) && 'Level the sides',
  ].filter((part) => part !== false);
  return parts.length === 1 ? parts[0] : 'Match the sides';
}
