import type { Cable, Repair, RepairAction, RepairOutput, Route } from '../../schema/repair.ts';

// Half of each: the sum of two equal sides is as loud as either.
const HALF_DB = 20 * Math.log10(0.5);

/** A channel as it is. */
export const pass = (channel: number): Route => [cable(channel)];
const file = (routes: Route[], suffix = ''): RepairOutput => ({ suffix, layout: 'discrete', routes });

export function cable(from: number, gainDb = 0): Cable {
  return { from, gainDb, polarity: 'normal' };
}

function plan(action: RepairAction, inputChannels: number, outputs: RepairOutput[]): Repair {
  return { version: 2, action, inputChannels, trims: [], outputs, sections: null, turns: null, level: null };
}

function allChannels(count: number): number[] {
  return Array.from({ length: count }, (_, i) => i + 1);
}

/** Every channel as it is. */
export function leaveAsItIs(inputChannels: number): Repair {
  return plan('leave', inputChannels, [file(allChannels(inputChannels).map(pass))]);
}

/** Stereo with one channel on both sides. */
export function fillFrom(channel: number, inputChannels: number): Repair {
  return plan('fill', inputChannels, [file([pass(channel), pass(channel)])]);
}

/** Neighbours change places; an odd last channel stays. */
export function swapSides(inputChannels: number): Repair {
  const order = allChannels(inputChannels).map((channel) => {
    const partner = channel % 2 === 1 ? channel + 1 : channel - 1;
    return partner <= inputChannels ? partner : channel;
  });
  return plan('swap', inputChannels, [file(order.map(pass))]);
}

/** One channel becomes a mono file. */
export function selectChannel(channel: number, inputChannels: number): Repair {
  return plan('select', inputChannels, [file([pass(channel)])]);
}

/** Channels 1 and 2 in equal parts become a mono file. */
export function sumToMono(inputChannels: number): Repair {
  return plan('sum', inputChannels, [file([[cable(1, HALF_DB), cable(2, HALF_DB)]])]);
}

/** Every channel, or each of those named, becomes a mono file of its own. */
export function splitToMonos(inputChannels: number, channels = allChannels(inputChannels)): Repair {
  const suffix = (channel: number): string => {
    if (inputChannels === 2) return channel === 1 ? '-left' : '-right';
    return `-ch${channel}`;
  };
  return plan(
    'split',
    inputChannels,
    channels.map((channel) => file([pass(channel)], suffix(channel))),
  );
}

/** Any input to any output of one file, as a person routes them. */
export function routed(inputChannels: number, routes: Route[]): Repair {
  return plan('route', inputChannels, [file(routes)]);
}
