import type { Repair } from '../../schema/repair.ts';

/** What feeds one output channel where nothing is calculated: an input's own samples, turned over or moved by whole samples or neither. */
export interface ExactFeed {
  /** From 0. */
  input: number;
  turnedOver: boolean;
  /** Later is positive. */
  shiftFrames: number;
}

/**
 * A repair that picks, copies, reorders, turns over or moves channels by whole samples at 0 dB calculates nothing.
 * @returns for each output file what feeds each of its channels, or null where samples must be calculated
 */
export function exactPlan(repair: Repair): ExactFeed[][] | null {
  const feeds = repair.outputs.map((output, file) =>
    output.routes.map((_, channel) => exactFeed(repair, file, channel)),
  );
  return feeds.every((channels) => channels.every((feed) => feed !== null)) ? (feeds as ExactFeed[][]) : null;
}

/** The same for one output channel: others of the repair may be calculated. */
export function exactFeed({ outputs, trims, level }: Repair, file: number, channel: number): ExactFeed | null {
  const [source, ...others] = outputs[file].routes[channel];
  const trim = trims.find((one) => one.channel === source.from);
  const moved =
    !level &&
    others.length === 0 &&
    source.gainDb === 0 &&
    (trim?.gainDb ?? 0) === 0 &&
    Number.isInteger(trim?.delaySamples ?? 0);
  return moved
    ? { input: source.from - 1, turnedOver: trim?.polarity === 'inverted', shiftFrames: trim?.delaySamples ?? 0 }
    : null;
}

/** Whether words can be moved without looking inside them. */
export function onlyMoves(feeds: ExactFeed[][]): boolean {
  return feeds.every((channels) => channels.every(({ turnedOver, shiftFrames }) => !turnedOver && shiftFrames === 0));
}
