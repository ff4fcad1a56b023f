import type { TurnsOutput } from '../../schema/repairFile.ts';
import type { Repair, RepairOutput, Route, Turns } from '../../schema/repair.ts';
import { cable, leaveAsItIs, pass, splitToMonos } from './plans.ts';

// How much softer a microphone at one end is heard on the other side: to be told from where, not to be in one ear.
const FAR_SIDE_DB = -6;

/**
 * Microphones that open in turns, mixed or apart. A mix has every microphone at the level it had: going to both sides changes nothing of it (no
 * pan rule takes 3 dB off).
 */
export function turnsPlan(inputChannels: number, turns: Turns, output: TurnsOutput): Repair {
  const channels = turns.microphones.map(({ channel }) => channel);
  return {
    ...leaveAsItIs(inputChannels),
    action: 'route',
    outputs: outputsFor(inputChannels, channels, output),
    turns,
  };
}

function outputsFor(inputChannels: number, channels: number[], output: TurnsOutput): RepairOutput[] {
  if (output === 'separate') return splitToMonos(inputChannels, channels).outputs;
  const mix = channels.flatMap(pass);
  const routes = output === 'centred' ? [mix, mix] : sides(channels);
  return [{ suffix: '', layout: 'discrete', routes }];
}

/** From the first on the left to the last on the right. */
function sides(channels: number[]): Route[] {
  const side = (far: (share: number) => number): Route =>
    channels.map((channel, i) =>
      cable(channel, channels.length === 1 ? 0 : FAR_SIDE_DB * far(i / (channels.length - 1)) || 0),
    );
  return [side((share) => share), side((share) => 1 - share)];
}

/** Which of the three a plan is; null where its routes are a person's own. */
export function turnsOutputOf({ inputChannels, outputs, turns }: Repair): TurnsOutput | null {
  const channels = turns!.microphones.map(({ channel }) => channel);
  const text = (files: RepairOutput[]): string => JSON.stringify(files.map(({ routes }) => routes));
  const all: TurnsOutput[] = ['centred', 'sides', 'separate'];
  return all.find((output) => text(outputsFor(inputChannels, channels, output)) === text(outputs)) ?? null;
}
