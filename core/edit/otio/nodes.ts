import { isLosslessNumber, parse, stringify } from 'lossless-json';

// OpenTimelineIO's JSON (the project's "OTIO file format" and its schema reference): every object says what it is in OTIO_SCHEMA, "Clip.2". What is not
// understood stays as it is, and a number keeps the digits it is written with: identifiers above 2^53 are no numbers to calculate with.

export type Node = Record<string, unknown> & { OTIO_SCHEMA?: unknown };

/** A place or a length in time, in units of which there are `rate` a second. */
export interface OtioTime {
  value: number;
  rate: number;
}

export interface OtioRange {
  start: OtioTime;
  duration: OtioTime;
}

// Rates that are written with three digits or two are meant as SMPTE ST 12-1 has them: 24000/1001 and its kin.
const ROUNDED_RATES = [24, 30, 48, 60, 72, 96, 120].map((nominal) => (nominal * 1000) / 1001);
const ROUNDED_BY = 0.006;

/** @throws SyntaxError or RangeError where it is not JSON */
export function parseNode(text: string): unknown {
  return parse(text, undefined, { onDuplicateKey: ({ newValue }) => newValue });
}

export function printNode(node: unknown): string {
  return `${stringify(node, undefined, 4)}\n`;
}

/** A copy that shares nothing. */
export function copyOf<Value>(value: Value): Value {
  if (Array.isArray(value)) return value.map(copyOf) as Value;
  if (!isNode(value)) return value;
  return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, copyOf(inner)])) as Value;
}

export function isNode(value: unknown): value is Node {
  return typeof value === 'object' && value !== null && !Array.isArray(value) && !isLosslessNumber(value);
}

/** "Clip" of "Clip.2"; empty where an object does not say what it is. */
export function schemaOf(node: Node): string {
  return typeof node.OTIO_SCHEMA === 'string' ? node.OTIO_SCHEMA.replace(/\.\d+$/, '') : '';
}

export function childrenOf(node: Node): Node[] {
  return Array.isArray(node.children) ? node.children.filter(isNode) : [];
}

export function textOf(value: unknown): string | null {
  return typeof value === 'string' && value !== '' ? value : null;
}

export function numberOf(value: unknown): number | null {
  const number = isLosslessNumber(value) ? Number(value.value) : value;
  return typeof number === 'number' && Number.isFinite(number) ? number : null;
}

/** null where it is not a time. */
function timeOf(value: unknown): OtioTime | null {
  if (!isNode(value)) return null;
  const amount = numberOf(value.value);
  const rate = numberOf(value.rate);
  return amount === null || rate === null || rate <= 0 ? null : { value: amount, rate };
}

/** null where it is not a range. */
export function rangeOf(value: unknown): OtioRange | null {
  if (!isNode(value)) return null;
  const start = timeOf(value.start_time);
  const duration = timeOf(value.duration);
  return start && duration && { start, duration };
}

export function secondsOf({ value, rate }: OtioTime): number {
  return value / exactRate(rate);
}

/** 24000/1001 for 23.976 and 23.98. */
export function exactRate(rate: number): number {
  return ROUNDED_RATES.find((exact) => Math.abs(exact - rate) < ROUNDED_BY) ?? rate;
}

export function timeNode(value: number, rate: number): Node {
  return { OTIO_SCHEMA: 'RationalTime.1', rate, value };
}

export function rangeNode(start: Node, duration: Node): Node {
  return { OTIO_SCHEMA: 'TimeRange.1', duration, start_time: start };
}

/** The media in force: of several, the active one. */
export function referenceOf(clip: Node): Node | null {
  const references = isNode(clip.media_references) ? clip.media_references : null;
  const active = references?.[textOf(clip.active_media_reference_key) ?? 'DEFAULT_MEDIA'];
  const reference = isNode(active) ? active : clip.media_reference;
  return isNode(reference) ? reference : null;
}

/** How long an item is on its track; null where it does not say. */
export function durationOf(item: Node): OtioTime | null {
  const own = rangeOf(item.source_range)?.duration;
  if (own) return own;
  const schema = schemaOf(item);
  if (schema === 'Clip') return rangeOf(referenceOf(item)?.available_range)?.duration ?? null;
  if (schema === 'Transition') return { value: 0, rate: 1 };
  const lengths = childrenOf(item).map(durationOf);
  if (schema === 'Stack') return longest(lengths);
  if (schema === 'Track') return summed(lengths);
  return null;
}

function longest(lengths: (OtioTime | null)[]): OtioTime | null {
  const known = lengths.filter((length) => length !== null);
  return known.length < lengths.length || known.length === 0
    ? null
    : known.reduce((most, one) => (secondsOf(one) > secondsOf(most) ? one : most));
}

function summed(lengths: (OtioTime | null)[]): OtioTime | null {
  if (lengths.some((length) => length === null)) return null;
  const rate = lengths.find((length) => length!.value !== 0)?.rate ?? 1;
  return { value: lengths.reduce((sum, length) => sum + secondsOf(length!) * exactRate(rate), 0), rate };
}
