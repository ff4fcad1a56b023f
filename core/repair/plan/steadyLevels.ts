import type { Levels } from '../../schema/forecast.ts';
import type { Repair } from '../../schema/repair.ts';

/**
 * The levels of what a repair makes where every output is one channel at one gain all the way through, and so has that channel's levels by that
 * gain. (Under −70 LUFS, where loudness is gated, a gain may bring in what was left out: nobody delivers that.)
 * @param inputs the clip's own channels @returns one entry an output channel, over all files; null where more than one channel or time has a say
 */
export function steadyLevels(repair: Repair, inputs: readonly Levels[]): Levels[] | null {
  const { outputs, sections, turns, level, trims } = repair;
  if (sections || turns || level) return null;
  const routes = outputs.flatMap((output) => output.routes);
  if (routes.some((route) => route.length > 1)) return null;
  return routes.map((route): Levels => {
    if (route.length === 0) return { loudnessLufs: null, truePeakDbtp: null };
    const [{ from, gainDb }] = route;
    const { loudnessLufs, truePeakDbtp } = inputs[from - 1];
    const byDb = gainDb + (trims.find(({ channel }) => channel === from)?.gainDb ?? 0);
    return {
      loudnessLufs: loudnessLufs === null ? null : loudnessLufs + byDb,
      truePeakDbtp: truePeakDbtp === null ? null : truePeakDbtp + byDb,
    };
  });
}
