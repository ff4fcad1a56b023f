import { Refusal } from '../../schema/refusal.ts';
import { childrenOf, durationOf, isNode, numberOf, schemaOf, secondsOf, type Node } from './nodes.ts';

/** A clip where it lies in an edit. */
export interface PlacedClip {
  clip: Node;
  /** The track it lies on; null where it lies on none. */
  track: Node | null;
  /** Where it begins on the film's own time; null where what comes before does not say how long it is. */
  recordSeconds: number | null;
  /** Whether it, its track and all around it are switched on. */
  isEnabled: boolean;
  /** How fast it plays; 1 as recorded. */
  speed: number;
}

// Nested deeper than this nothing is an edit that a person made.
const DEEPEST = 64;

/** Every clip of an edit in its order, also in nested stacks. @throws Refusal where it is nested without end */
export function* placedClips(root: Node): Generator<PlacedClip> {
  const start = schemaOf(root) === 'Timeline' ? timelineStart(root) : 0;
  yield* within(root, { track: null, recordSeconds: start, isEnabled: true, speed: 1 }, 0);
}

type Around = Omit<PlacedClip, 'clip'>;

function* within(node: Node, around: Around, depth: number): Generator<PlacedClip> {
  if (depth > DEEPEST) throw new Refusal('bad-request', `The edit is nested more than ${DEEPEST} deep.`);
  const schema = schemaOf(node);
  const isEnabled = around.isEnabled && node.enabled !== false;
  const speed = around.speed * speedOf(node);
  if (schema === 'Clip') {
    yield { ...around, clip: node, isEnabled, speed };
    return;
  }
  const track = schema === 'Track' ? node : around.track;
  // What is cut off at the head of a stack or a track is not played.
  const head = schema === 'Timeline' ? 0 : headSeconds(node);
  let at = around.recordSeconds === null ? null : around.recordSeconds - head;
  const inner = (): Around => ({ track, recordSeconds: at, isEnabled, speed });
  if (isNode(node.tracks)) yield* within(node.tracks, inner(), depth + 1);
  for (const child of childrenOf(node)) {
    yield* within(child, inner(), depth + 1);
    if (schema !== 'Track') continue;
    const length = durationOf(child);
    at = at === null || length === null ? null : at + secondsOf(length);
  }
}

function timelineStart({ global_start_time: start }: Node): number {
  const time = isNode(start) ? { value: numberOf(start.value), rate: numberOf(start.rate) } : null;
  return time?.rate && time.value !== null ? secondsOf({ value: time.value, rate: time.rate }) : 0;
}

function headSeconds(node: Node): number {
  if (!isNode(node.source_range) || !isNode(node.source_range.start_time)) return 0;
  const { value, rate } = node.source_range.start_time;
  const amount = numberOf(value);
  const each = numberOf(rate);
  return amount === null || each === null || each <= 0 ? 0 : secondsOf({ value: amount, rate: each });
}

/** A freeze is a speed of 0. */
function speedOf({ effects }: Node): number {
  const warps = Array.isArray(effects) ? effects.filter(isNode) : [];
  return warps.reduce((speed, effect) => {
    const schema = schemaOf(effect);
    if (schema !== 'LinearTimeWarp' && schema !== 'FreezeFrame') return speed;
    return speed * (numberOf(effect.time_scalar) ?? (schema === 'FreezeFrame' ? 0 : 1));
  }, 1);
}
