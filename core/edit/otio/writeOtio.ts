import type { EditEvent, EditMarker, MediaFile, Replacement, WriteEdit } from '../edit.ts';
import {
  copyOf,
  exactRate,
  isNode,
  printNode,
  rangeNode,
  rangeOf,
  referenceOf,
  textOf,
  timeNode,
  type Node,
} from './nodes.ts';
import type { OtioEdit } from './otioEdit.ts';
import { addParallelTracks } from './parallelTracks.ts';
import { placedClips } from './placedClips.ts';

const NAMESPACE = 'pocket_twin';
// Where the edit counts nothing in frames.
const WITHOUT_RATE = 24;
// What calculating with fractions of seconds leaves.
const OFF_A_WHOLE = 1e-3;

/**
 * The edit with new files, everything else as it was: no time and no count changes. A recording that became several files gets parallel tracks for
 * those after the first.
 */
export function writeOtio({ root, events }: OtioEdit, { replacementOf, movedTarget, markersOf }: WriteEdit): string {
  const copy = copyOf(root);
  const further = new Map<Node, { clip: Node; label: string }[]>();
  for (const [i, { clip, track }] of [...placedClips(copy)].entries()) {
    const event = events[i];
    moveReferences(clip, movedTarget);
    const replacement = replacementOf(event);
    if (replacement) {
      const others = replacement.further.map((file) => {
        const other = copyOf(clip);
        pointTo(other, file, replacement, event);
        return { clip: other, label: file.label };
      });
      if (others.length > 0) further.set(clip, others);
      pointTo(clip, replacement, replacement, event);
      if (replacement.note && track) noteOn(track, `${event.name ?? replacement.name}: ${replacement.note}`);
    }
    addMarkers(clip, markersOf?.(event) ?? []);
  }
  return printNode(addParallelTracks(copy, further));
}

/** Makes a new file the media in force. */
function pointTo(clip: Node, file: MediaFile, { note, range }: Replacement, event: EditEvent): void {
  const reference = referenceOf(clip) ?? newReference(clip);
  remember(reference, { was: event.target, note });
  reference.OTIO_SCHEMA = 'ExternalReference.1';
  reference.target_url = file.target;
  if (range) reference.available_range = availableRange(range, clip);
  if (textOf(reference.name) !== null) reference.name = file.name;
}

/** A clip that names its recording but has no media yet. */
function newReference(clip: Node): Node {
  const reference: Node = { OTIO_SCHEMA: 'ExternalReference.1', metadata: {}, name: '', available_range: null };
  if (isNode(clip.media_references))
    clip.media_references[textOf(clip.active_media_reference_key) ?? 'DEFAULT_MEDIA'] = reference;
  else clip.media_reference = reference;
  return reference;
}

/** In frames of the edit where both ends are whole ones, as pictures' are; else in samples, which are always whole. */
function availableRange(
  { startSeconds, durationSeconds, sampleRate, isPicture }: NonNullable<Replacement['range']>,
  clip: Node,
): Node {
  const rate = rangeOf(clip.source_range)?.start.rate ?? WITHOUT_RATE;
  const start = startSeconds * exactRate(rate);
  const duration = durationSeconds * exactRate(rate);
  const isWhole = [start, duration].every((frames) => Math.abs(frames - Math.round(frames)) < OFF_A_WHOLE);
  const units = isPicture || isWhole ? rate : sampleRate;
  const whole = (seconds: number): Node => timeNode(Math.round(seconds * exactRate(units)), units);
  return rangeNode(whole(startSeconds), whole(durationSeconds));
}

/** Addresses that were meant from where the edit lay lead to the same files from its new place. */
function moveReferences(clip: Node, movedTarget: WriteEdit['movedTarget']): void {
  const references = isNode(clip.media_references) ? Object.values(clip.media_references) : [clip.media_reference];
  for (const reference of references.filter(isNode))
    for (const key of ['target_url', 'target_url_base']) {
      const target = textOf(reference[key]);
      const moved = target === null ? null : movedTarget(target);
      if (moved !== null) reference[key] = moved;
    }
}

function remember(node: Node, facts: Record<string, unknown>): void {
  node.metadata = { ...(isNode(node.metadata) ? node.metadata : {}), [NAMESPACE]: facts };
}

function noteOn(track: Node, sentence: string): void {
  const metadata = isNode(track.metadata) ? track.metadata : {};
  const ours = isNode(metadata[NAMESPACE]) ? metadata[NAMESPACE] : {};
  const notes = Array.isArray(ours.notes) ? ours.notes : [];
  if (!notes.includes(sentence))
    track.metadata = { ...metadata, [NAMESPACE]: { ...ours, notes: [...notes, sentence] } };
}

/** At their places in the recording's own time. */
function addMarkers(clip: Node, markers: readonly EditMarker[]): void {
  if (markers.length === 0) return;
  const rate = rangeOf(clip.source_range)?.start.rate ?? WITHOUT_RATE;
  const frames = (seconds: number): Node => timeNode(Math.round(seconds * exactRate(rate)), rate);
  const made = markers.map(({ name, startSeconds, durationSeconds, comment }): Node => ({
    OTIO_SCHEMA: 'Marker.2',
    ...{ name, comment, color: 'RED', metadata: { [NAMESPACE]: {} } },
    marked_range: rangeNode(frames(startSeconds), frames(durationSeconds)),
  }));
  clip.markers = [...(Array.isArray(clip.markers) ? clip.markers : []), ...made];
}
