import { changesNothing } from '../repair/plan/compare.ts';
import { actionInOneFile, onSameTracks, type Tracks } from '../repair/plan/sameTracks.ts';
import type { HandoffTracks } from '../schema/handoff.ts';
import type { Repair, RepairOutput } from '../schema/repair.ts';

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
  const onSame = keepsTracks(wanted) ? (onSameTracks(repair, streams) ?? asOneFile(repair)) : null;
  const laid = onSame ?? (wanted.mayBeSeveral ? repair : (onSameTracks(repair, streams) ?? asOneFile(repair)));
  return asDone(laid);
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
