import { changesNothing } from '../repair/plan/compare.ts';
import { actionInOneFile, onSameTracks, type Tracks } from '../repair/plan/sameTracks.ts';
import type { HandoffTracks } from '../schema/handoff.ts';
import type { Repair, RepairOutput, Route } from '../schema/repair.ts';

export interface WantedTracks {
  /** null where nobody said: the same for films, and for what an edit uses. */
  tracks: HandoffTracks | null;
  hasVideo: boolean;
  isInEdit: boolean;
  /** Whether the edit can point to several files of it. */
  mayBeSeveral: boolean;
}

/** Whether a recording's files keep the streams and channels it had. */
export function keepsTracks({ tracks, hasVideo, isInEdit }: WantedTracks): boolean {
  return (tracks ?? (hasVideo || isInEdit ? 'same' : 'repaired')) === 'same';
}

/**
 * A repair as it is written for whoever takes the files: on the channels that the recording had, or as it is.
 * @param streams of the recording @returns null where the recording is as wanted already: it is copied then
 */
export function onTracks(repair: Repair | null, streams: readonly Tracks[], wanted: WantedTracks): Repair | null {
  if (repair === null) return null;
  // Streams of different languages are not one recording's sides: nothing of one goes into another, and none goes away.
  const hasLanguages = new Set(streams.flatMap(({ language }) => language ?? [])).size > 1;
  const onSame = keepsTracks(wanted) || hasLanguages ? (onSameTracks(repair, streams) ?? asOneFile(repair)) : null;
  const laid = onSame ?? (wanted.mayBeSeveral ? repair : (onSameTracks(repair, streams) ?? asOneFile(repair)));
  return asDone(laid);
}

/** A plan with what it makes of several channels as mono so much louder, for programs that play mono in the middle softer. */
export function withMonoGain(repair: Repair, gainDb: number): Repair {
  if (gainDb === 0 || repair.inputChannels === 1) return repair;
  let first = 0;
  const isMono = repair.outputs.flatMap(({ routes }) => routes.map(() => routes.length === 1));
  const raised = (routes: Route[], at: number): Route[] =>
    routes.map((route, i) => (isMono[at + i] ? route.map((one) => ({ ...one, gainDb: one.gainDb + gainDb })) : route));
  const outputs = repair.outputs.map((output) => {
    const routes = raised(output.routes, first);
    first += output.routes.length;
    return { ...output, routes };
  });
  const list = repair.sections?.list.map((section) => ({ ...section, routes: raised(section.routes, 0) }));
  return { ...repair, outputs, sections: repair.sections && list ? { ...repair.sections, list } : null };
}

/** Whether a plan makes mono of several channels. */
export function becomesMono({ inputChannels, outputs }: Repair): boolean {
  return inputChannels > 1 && outputs.some(({ routes }) => routes.length === 1);
}

/** A repair that does nothing leaves the file as it is, byte by byte. */
export function asDone(repair: Repair | null): Repair | null {
  // A layout is said by the file itself: the same words under another head.
  const isPlain = repair?.outputs.every(({ layout }) => layout === 'discrete') ?? true;
  return repair === null || (isPlain && changesNothing(repair)) ? null : repair;
}

/** All channels of its files in one. */
function asOneFile(repair: Repair): Repair {
  if (repair.outputs.length === 1) return repair;
  const output: RepairOutput = {
    suffix: '',
    layout: 'discrete',
    routes: repair.outputs.flatMap(({ routes }) => routes),
  };
  return { ...repair, action: actionInOneFile(repair, output), outputs: [output] };
}
