import * as z from 'zod';
import { Refusal } from '../schema/refusal.ts';
import type { EditEvent, Replacement } from './edit.ts';

// OpenTimelineIO's JSON (the project's "OTIO file format" and its schema reference): every object says what it is in OTIO_SCHEMA, "Clip.2". What is not
// understood stays as it is.

type Node = Record<string, unknown> & { OTIO_SCHEMA?: string };

const RationalTime = z.object({ value: z.number(), rate: z.number().positive() });
const TimeRange = z.object({ start_time: RationalTime, duration: RationalTime });
// Nested deeper than this nothing is an edit that a person made.
const DEEPEST = 64;
const NAMESPACE = 'pocket_twin';
// Where the edit counts nothing in frames.
const WITHOUT_RATE = 24;

export interface OtioEdit {
  root: Node;
  events: EditEvent[];
}

/** @param name for sentences @throws Refusal where it is no OpenTimelineIO edit */
export function readOtio(text: string, name: string): OtioEdit {
  let root: unknown;
  try {
    root = JSON.parse(text);
  } catch {
    throw new Refusal('bad-request', `${name} is not whole: it is no JSON. Export the edit again.`);
  }
  if (!isNode(root) || !/^(Timeline|Stack|Track|Clip|SerializableCollection)\.\d+$/.test(root.OTIO_SCHEMA ?? ''))
    throw new Refusal('bad-request', `${name} is no OpenTimelineIO edit. Export the timeline as .otio.`);
  return { root, events: [...clipsOf(root)].map(({ clip }, index) => eventOf(clip, index)) };
}

/** The edit with new files, everything else as it was: no time and no count changes. @param replacementOf null where an event stays */
export function writeOtio({ root, events }: OtioEdit, replacementOf: (event: EditEvent) => Replacement | null): string {
  const copy = JSON.parse(JSON.stringify(root)) as Node;
  for (const [i, { clip, track }] of [...clipsOf(copy)].entries()) {
    const replacement = replacementOf(events[i]);
    const reference = replacement && referenceOf(clip);
    if (!replacement || !reference) continue;
    remember(reference, { was: reference.target_url ?? null, note: replacement.note });
    reference.OTIO_SCHEMA = 'ExternalReference.1';
    reference.target_url = replacement.target;
    if (replacement.range) reference.available_range = rangeOf(replacement.range, rateOf(clip));
    if (typeof reference.name === 'string' && reference.name !== '') reference.name = replacement.name;
    if (replacement.note && track) noteOn(track, `${String(clip.name ?? replacement.name)}: ${replacement.note}`);
  }
  return `${JSON.stringify(copy, null, 4)}\n`;
}

/** Every clip of an edit in its order, also in nested stacks, with the track it lies on. */
function* clipsOf(node: Node, track: Node | null = null, depth = 0): Generator<{ clip: Node; track: Node | null }> {
  if (depth > DEEPEST) throw new Refusal('bad-request', `The edit is nested more than ${DEEPEST} deep.`);
  const schema = node.OTIO_SCHEMA ?? '';
  if (schema.startsWith('Clip.')) {
    yield { clip: node, track };
    return;
  }
  const within = schema.startsWith('Track.') ? node : track;
  const tracks = isNode(node.tracks) ? [node.tracks] : [];
  const children = Array.isArray(node.children) ? node.children.filter(isNode) : [];
  for (const child of [...tracks, ...children]) yield* clipsOf(child, within, depth + 1);
}

/** The media in force: of several, the active one. */
function referenceOf(clip: Node): Node | null {
  const references = isNode(clip.media_references) ? clip.media_references : null;
  const active = references?.[String(clip.active_media_reference_key ?? 'DEFAULT_MEDIA')];
  const reference = isNode(active) ? active : clip.media_reference;
  return isNode(reference) ? reference : null;
}

function eventOf(clip: Node, index: number): EditEvent {
  const reference = referenceOf(clip);
  const isFile = reference?.OTIO_SCHEMA?.startsWith('ExternalReference.') ?? false;
  const available = TimeRange.safeParse(reference?.available_range).data;
  const range = TimeRange.safeParse(clip.source_range).data ?? available;
  const startSeconds = range ? range.start_time.value / range.start_time.rate : null;
  return {
    index,
    name: typeof clip.name === 'string' && clip.name !== '' ? clip.name : null,
    target: isFile && typeof reference!.target_url === 'string' ? reference!.target_url : null,
    reel: reelOf(clip) ?? (reference ? reelOf(reference) : null),
    startSeconds,
    mediaStartSeconds: available ? available.start_time.value / available.start_time.rate : null,
    endSeconds: range && startSeconds !== null ? startSeconds + range.duration.value / range.duration.rate : null,
  };
}

function rateOf(clip: Node): number {
  return TimeRange.safeParse(clip.source_range).data?.start_time.rate ?? WITHOUT_RATE;
}

function rangeOf({ startSeconds, durationSeconds }: NonNullable<Replacement['range']>, rate: number): Node {
  const time = (seconds: number): Node => ({ OTIO_SCHEMA: 'RationalTime.1', rate, value: seconds * rate });
  return { OTIO_SCHEMA: 'TimeRange.1', start_time: time(startSeconds), duration: time(durationSeconds) };
}

/** As the CMX adapter of OpenTimelineIO keeps it. */
function reelOf({ metadata }: Node): string | null {
  const cmx = isNode(metadata) && isNode(metadata.cmx_3600) ? metadata.cmx_3600 : null;
  return typeof cmx?.reel === 'string' ? cmx.reel : null;
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

function isNode(value: unknown): value is Node {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}
