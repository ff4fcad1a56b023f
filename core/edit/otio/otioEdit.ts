import { Refusal } from '../../schema/refusal.ts';
import type { EditEvent } from '../edit.ts';
import { isNode, parseNode, rangeOf, referenceOf, schemaOf, secondsOf, textOf, type Node } from './nodes.ts';
import { placedClips, type PlacedClip } from './placedClips.ts';

export interface OtioEdit {
  root: Node;
  events: EditEvent[];
}

const ROOTS = ['Timeline', 'Stack', 'Track', 'Clip', 'SerializableCollection'];

/** @param name for sentences @throws Refusal where it is not an OpenTimelineIO edit */
export function readOtio(text: string, name: string): OtioEdit {
  let root: unknown;
  try {
    root = parseNode(text);
  } catch {
    throw new Refusal('bad-request', `${name} is not valid JSON: it may be cut off. Export the edit again.`);
  }
  if (!isNode(root) || !ROOTS.includes(schemaOf(root)))
    throw new Refusal('bad-request', `${name} is not an OpenTimelineIO edit. Export the timeline as .otio.`);
  return { root, events: [...placedClips(root)].map(eventOf) };
}

function eventOf({ clip, track, recordSeconds, isEnabled, speed }: PlacedClip, index: number): EditEvent {
  const reference = referenceOf(clip);
  const available = rangeOf(reference?.available_range);
  const range = rangeOf(clip.source_range) ?? available;
  const startSeconds = range && secondsOf(range.start);
  const lengthSeconds = range && secondsOf(range.duration);
  return {
    index,
    name: textOf(clip.name),
    target: reference && schemaOf(reference) === 'ExternalReference' ? textOf(reference.target_url) : null,
    reel: reelOf(clip) ?? (reference ? reelOf(reference) : null),
    startSeconds,
    endSeconds: range && startSeconds! + lengthSeconds!,
    mediaStartSeconds: available && secondsOf(available.start),
    recordStartSeconds: recordSeconds,
    recordEndSeconds: recordSeconds === null || lengthSeconds === null ? null : recordSeconds + lengthSeconds,
    track: track && textOf(track.name),
    isPicture: track?.kind === 'Video',
    isEnabled,
    speed,
    channels: null,
  };
}

/** As the CMX adapter of OpenTimelineIO keeps it. */
function reelOf({ metadata }: Node): string | null {
  const cmx = isNode(metadata) && isNode(metadata.cmx_3600) ? metadata.cmx_3600 : null;
  return textOf(cmx?.reel);
}
