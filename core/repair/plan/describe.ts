import type { Repair } from '../../schema/repair.ts';
import { sayDecibels } from '../../signal/sayDecibels.ts';

/** What a repair is called, everywhere it is named to a person. */
export function repairName(repair: Repair): string {
  const { level } = repair;
  const name = routeName(repair);
  if (!level) return name;
  const target =
    level.loudnessLufs !== null
      ? `at ${sayDecibels(level.loudnessLufs, 'LUFS')}`
      : level.peakDbtp !== null
        ? `peaks at ${sayDecibels(level.peakDbtp, 'dBTP')}`
        : `under ${sayDecibels(level.ceilingDbtp, 'dBTP')}`;
  return repair.action === 'leave' ? `As it is, ${target}` : `${name}, ${target}`;
}

function routeName(repair: Repair): string {
  const first = repair.outputs[0].routes[0][0].from;
  const stereo = repair.inputChannels === 2;
  switch (repair.action) {
    case 'leave':
      return 'Leave as it is';
    case 'fill':
      if (!stereo) return `Channel ${first} on both sides`;
      return first === 1 ? 'Fill right from left' : 'Fill left from right';
    case 'swap':
      return 'Swap sides';
    case 'select':
      if (!stereo) return `Channel ${first} only, as mono`;
      return first === 1 ? 'Left only, as mono' : 'Right only, as mono';
    case 'sum':
      return 'Sum to mono';
    case 'split':
      return splitName(repair);
    case 'trim':
      return trimName(repair);
  }
}

function splitName({ inputChannels, outputs }: Repair): string {
  const count = outputs.length === 2 ? 'two' : outputs.length;
  if (outputs.length === inputChannels) return `Split into ${count} mono files`;
  return `Channels ${outputs.map(({ routes }) => routes[0][0].from).join(', ')} as ${count} mono files`;
}

function trimName({ trims }: Repair): string {
  const parts = [
    trims.some(({ polarity }) => polarity === 'inverted') && 'Turn one side over',
    trims.some(({ delaySamples }) => delaySamples !== 0) && 'Line up the sides',
    trims.some(({ gainDb }) => gainDb !== 0) && 'Level the sides',
  ].filter((part) => part !== false);
  return parts.length === 1 ? parts[0] : 'Match the sides';
}
