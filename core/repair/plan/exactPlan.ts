import type { Repair, Route } from '../../schema/repair.ts';
import type { FrameSpan } from '../../time/spans.ts';
import { fadesOf, merged, timelineOf } from './timeline.ts';

/** What feeds one output channel where nothing is calculated: an input's own samples, turned over or moved by whole samples or neither. */
export interface ExactFeed {
  /** From 0; null is silence. */
  input: number | null;
  turnedOver: boolean;
  /** Later is positive. */
  shiftFrames: number;
}

const ALL: FrameSpan = { startFrame: 0, endFrame: Infinity };

/**
 * A repair that picks, copies, reorders, turns over or moves channels by whole samples at 0 dB, the whole clip through, calculates nothing.
 * @returns for each output file what feeds each of its channels, or null where samples must be calculated
 */
export function exactPlan(repair: Repair): ExactFeed[][] | null {
  if (repair.sections) return null;
  const feeds = repair.outputs.map(({ routes }) => routes.map((route) => exactFeed(repair, route)));
  return feeds.every((channels) => channels.every((feed) => feed !== null)) ? (feeds as ExactFeed[][]) : null;
}

/** Whether words can be moved without looking inside them. */
export function onlyMoves(feeds: ExactFeed[][]): boolean {
  return feeds.every((channels) =>
    channels.every(({ input, turnedOver, shiftFrames }) => input !== null && !turnedOver && shiftFrames === 0),
  );
}

/**
 * Where samples of an output channel are calculated: within fades, and where what feeds it is more than one channel moved. Everywhere else each
 * is one that was read.
 * @param channel from 0, counted over all files
 */
export function calculatedSpans(repair: Repair, channel: number): FrameSpan[] {
  if (repair.level) return [ALL];
  const { pieces, joints } = timelineOf(repair, channel);
  return merged([
    ...joints,
    ...pieces
      .filter(({ route }) => exactFeed(repair, route) === null)
      .map(({ startFrame, endFrame }) => ({ startFrame, endFrame })),
  ]);
}

/**
 * The fades outside of which every sample of some output channels is one that was read; all of them without `channels`.
 * @returns null where samples are calculated elsewhere as well; none where nothing is calculated
 */
export function exactOutside(repair: Repair, channels?: readonly number[]): FrameSpan[] | null {
  const count = repair.outputs.reduce((sum, { routes }) => sum + routes.length, 0);
  const asked = channels ?? Array.from({ length: count }, (_, i) => i);
  const calculated = merged(asked.flatMap((channel) => calculatedSpans(repair, channel)));
  const fades = fadesOf(repair);
  const inFades = calculated.every((span) =>
    fades.some(({ startFrame, endFrame }) => startFrame <= span.startFrame && span.endFrame <= endFrame),
  );
  return inFades ? calculated : null;
}

function exactFeed({ trims, turns, level }: Repair, route: Route): ExactFeed | null {
  if (level) return null;
  if (route.length === 0) return { input: null, turnedOver: false, shiftFrames: 0 };
  const [{ from, gainDb, polarity }, ...others] = route;
  const trim = trims.find(({ channel }) => channel === from);
  const moved =
    others.length === 0 &&
    gainDb === 0 &&
    (trim?.gainDb ?? 0) === 0 &&
    Number.isInteger(trim?.delaySamples ?? 0) &&
    trim?.course === undefined &&
    !turns?.microphones.some(({ channel }) => channel === from);
  return moved
    ? {
        input: from - 1,
        turnedOver: (trim?.polarity === 'inverted') !== (polarity === 'inverted'),
        shiftFrames: trim?.delaySamples ?? 0,
      }
    : null;
}
