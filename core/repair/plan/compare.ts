import type { InputTrim, Repair } from '../../schema/repair.ts';

/** Whether two repairs are one value, in whatever order a database or a file has put their parts. */
export function sameRepair(a: Repair, b: Repair): boolean {
  return canonical(a) === canonical(b);
}

/** One text for all ways of writing the same repair: a trim that does nothing is none, and the order of trims is nobody's choice. */
function canonical({ version, action, inputChannels, trims, outputs, level }: Repair): string {
  return JSON.stringify([
    version,
    action,
    inputChannels,
    trims
      .filter(doesSomething)
      .sort((a, b) => a.channel - b.channel)
      .map(({ channel, gainDb, polarity, delaySamples }) => [channel, gainDb, polarity, delaySamples]),
    outputs.map(({ suffix, routes }) => [
      suffix,
      routes.map((route) => route.map(({ from, gainDb }) => [from, gainDb])),
    ]),
    level && [level.loudnessLufs, level.peakDbtp, level.ceilingDbtp],
  ]);
}

export function doesSomething({ gainDb, polarity, delaySamples }: InputTrim): boolean {
  return gainDb !== 0 || polarity === 'inverted' || delaySamples !== 0;
}
