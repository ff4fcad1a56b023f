import { isStraight } from './timeline.ts';
import type { InputTrim, Repair, Route } from '../../schema/repair.ts';

/** Whether two repairs are one value, in whatever order a database or a file has put their parts. */
export function sameRepair(a: Repair, b: Repair): boolean {
  return canonical(a) === canonical(b);
}

/** One text for all ways of writing the same repair: a trim that does nothing is none, and the order of trims is nobody's choice. */
function canonical({ version, action, inputChannels, trims, outputs, sections, turns, level }: Repair): string {
  return JSON.stringify([
    version,
    action,
    inputChannels,
    trims
      .filter(doesSomething)
      .sort((a, b) => a.channel - b.channel)
      .map(({ channel, gainDb, polarity, delaySamples, course }) => [
        ...[channel, gainDb, polarity, delaySamples],
        ...(course ? [course.driftPpm, course.jump?.atFrame, course.jump?.samples] : []),
      ]),
    outputs.map(({ suffix, layout, routes }) => [suffix, layout, routes.map(canonicalRoute)]),
    sections && [
      sections.fadeFrames,
      sections.list.map(({ startFrame, endFrame, fadeIn, routes }) => [
        startFrame,
        endFrame,
        fadeIn,
        routes.map(canonicalRoute),
      ]),
    ],
    turns && [
      [...turns.microphones]
        .sort((a, b) => a.channel - b.channel)
        .map(({ channel, closedDb, fadeInFrames, fadeOutFrames, leadFrames, tailFrames }) => [
          channel,
          closedDb,
          fadeInFrames,
          fadeOutFrames,
          leadFrames,
          tailFrames,
        ]),
      [...turns.list]
        .sort((a, b) => a.startFrame - b.startFrame || a.channel - b.channel)
        .map(({ channel, startFrame, endFrame }) => [channel, startFrame, endFrame]),
    ],
    level && [level.commonGainDb, level.loudnessLufs, level.peakDbtp, level.ceilingDbtp],
  ]);
}

/** What feeds an output has no order. */
function canonicalRoute(route: Route): unknown[] {
  return [...route].sort((a, b) => a.from - b.from).map(({ from, gainDb, polarity }) => [from, gainDb, polarity]);
}

/** Whether what comes out is what came in, whatever the plan is called. */
export function changesNothing({ inputChannels, outputs, trims, sections, turns, level }: Repair): boolean {
  const [only] = outputs;
  return (
    outputs.length === 1 &&
    only.routes.length === inputChannels &&
    isStraight(only.routes) &&
    !trims.some(doesSomething) &&
    sections === null &&
    turns === null &&
    level === null
  );
}

export function doesSomething({ gainDb, polarity, delaySamples, course }: InputTrim): boolean {
  return gainDb !== 0 || polarity === 'inverted' || delaySamples !== 0 || course !== undefined;
}
