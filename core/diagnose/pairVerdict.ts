import { dullerSide, narrowerBand } from '../measure/spectra/narrowerBand.ts';
import { valuesAbove } from '../kernels/blockSeries.ts';
import { CLEAR_ARRIVAL, NOTHING_POWER } from '../measure/boundaries.ts';
import { GATED_SHARE, LEAST_TRIMMED_BLOCKS } from './boundaries.ts';
import { blocksIn, secondsOfBlocks, type BlockSpan } from '../time/spans.ts';
import type { ChannelMeasurement, PairMeasurement } from '../measure/measurement.ts';
import { levelOrNull, type PairReport, type Section } from '../schema/inspection.ts';
import type { PairVerdict, Side } from '../schema/verdict.ts';
import { dbFromPower } from '../signal/decibels.ts';
import { channelActivity, madeActivity, type ChannelActivity } from './channelActivity.ts';
import { exchangeOf } from './exchanged.ts';
import { talkersOf } from './twoMicrophones.ts';
import { confidenceFrom } from './confidence.ts';
import type { SegmentVerdict } from './segment.ts';
import { decideSegment } from './segmentVerdict.ts';
import { settled, type Decided } from './settled.ts';

export interface PairDecision {
  report: PairReport;
  sections: Section[];
  /** Of copies apart by a filter, the side that holds less of what both have. */
  duller: Side | null;
}

interface Clock {
  sampleRate: number;
  blockSeconds: number;
  durationSeconds: number;
}

export function decidePair(
  pair: PairMeasurement,
  channels: [ChannelMeasurement, ChannelMeasurement],
  activity: [ChannelActivity, ChannelActivity],
  clock: Clock,
): PairDecision {
  const difference = speechDifference(pair, channels);
  const decided = pair.segments.map((segment) => {
    const whole = pair.segments.length === 1;
    // What was recorded differently has noise of its own, and a loudness of its own.
    const inside = whole ? channels : (channels.map((channel) => within(channel, segment)) as typeof channels);
    const does = whole
      ? activity
      : (inside.map((channel, side) =>
          activity[side].isMade
            ? madeActivity(channel.blockPower.length)
            : partOf(channels[side], activity[side], channelActivity(channel, clock.blockSeconds)),
        ) as typeof activity);
    return {
      segment,
      ...decideSegment({
        segment,
        channels: inside,
        activity: does,
        differencePower: difference.subarray(segment.startBlock, segment.endBlock),
        sampleRate: clock.sampleRate,
        blockSeconds: clock.blockSeconds,
      }),
    };
  });
  const sure = settled(decided, channels);
  const parts = joinAlike(sure);
  const longest = sure.reduce((a, b) => (blocksIn(b.segment) > blocksIn(a.segment) ? b : a));
  const changes = parts.length > 1;
  const match = longest.segment.match;
  // What both hear: a copy, or an arrival that stands out. Otherwise nothing was moved, and no difference of time or level is claimed.
  const shared =
    match &&
    (longest.verdict === 'fake-stereo' || longest.verdict === 'dual-mono' || match.arrival.prominence >= CLEAR_ARRIVAL);
  const [left, right] = channels;
  // Of copies whose delay jumps what is told of time is that before the jump.
  const isDisguised = !changes && parts[0].verdict === 'fake-stereo';
  const jumping = !isDisguised ? null : sure.map(({ segment }) => segment.match).find((one) => one?.jump);
  const jump = jumping?.jump ?? null;
  const verdict = changes ? 'changing' : parts[0].verdict;
  return {
    report: {
      channels: pair.channels,
      verdict,
      side: changes ? null : parts[0].side,
      disguise: changes
        ? []
        : jump && !longest.disguise.includes('delay')
          ? [...longest.disguise, 'delay']
          : longest.disguise,
      confidence: leastConfidence(sure),
      correlation: correlation(pair),
      balanceLu: levelOrNull(left.loudnessLufs - right.loudnessLufs),
      nullDepthDb: levelOrNull(nullDepth(pair)),
      matchedNullDepthDb: match ? levelOrNull(match.matchedNullDb) : levelOrNull(nullDepth(pair)),
      gainDb: shared ? levelOrNull(match.gainDb) : 0,
      delaySamples: shared ? (jumping ?? match).delaySamples : 0,
      // A pair has one clock.
      driftPpm: shared && verdict !== 'stereo' ? match.driftPpm : 0,
      jump: jump && { atSeconds: jump.atFrame / clock.sampleRate, delaySamples: jump.samples },
      gainMovesDb: match?.gainMovesDb ?? 0,
      limited: match?.limited ?? null,
      narrower: match && longest.verdict === 'fake-stereo' ? narrowerBand(match.wholeBand) : null,
      echoSeconds: match?.echoSeconds ?? 0,
      sway: match?.sway ?? null,
      exchange: exchangeUnder(verdict, channels, clock.blockSeconds),
      polarity: shared && match.polarity < 0 ? 'inverted' : 'normal',
      commonArrival: Boolean(shared),
      middle: changes ? null : middleAmong(sure),
      spoke: longest.spoke,
      sumLossDb: sumLoss(pair),
      talkers: !changes && match && parts[0].verdict === 'two-mics' ? talkersOf(match, clock.sampleRate) : null,
    },
    sections: parts.map(({ verdict, side, ...blocks }, i) => ({
      ...secondsOfBlocks(blocks, clock.blockSeconds),
      ...(i === parts.length - 1 && { endSeconds: clock.durationSeconds }),
      verdict,
      side,
    })),
    duller: match && isDisguised && longest.disguise.includes('filter') ? dullerSide(match.wholeBand) : null,
  };
}

/** Parts that are told alike are told by all of them, however short some are; what is near another verdict in one of them is in all. */
function leastConfidence(decided: Decided[]): number {
  return Math.min(
    ...decided.map(({ verdict, side }) => {
      const alike = decided.filter((one) => one.verdict === verdict && one.side === side);
      const activeSeconds = alike.reduce((sum, one) => sum + one.activeSeconds, 0);
      return confidenceFrom(Math.min(...alike.map(({ margin }) => margin)), activeSeconds);
    }),
  );
}

/** What is steady noise throughout is none the less in a part of it, wherever the line to a steady programme falls. */
function partOf(
  { blockSpeechPower }: ChannelMeasurement,
  whole: ChannelActivity,
  part: ChannelActivity,
): ChannelActivity {
  const isThroughout =
    valuesAbove(blockSpeechPower, NOTHING_POWER).length > (1 - GATED_SHARE) * blockSpeechPower.length;
  if (whole.content !== 'noise' || !isThroughout) return part;
  return { ...part, content: 'noise', active: part.active.map(() => 0) };
}

/** Mean square of left less right of each block in the band of speech: what rumbles on one side is none of it. */
function speechDifference({ blockSpeechProduct }: PairMeasurement, [left, right]: ChannelMeasurement[]): Float64Array {
  return blockSpeechProduct.map((product, i) =>
    Math.max(0, left.blockSpeechPower[i] + right.blockSpeechPower[i] - 2 * product),
  );
}

/** Which side holds the middle in more of the clip than not. */
function middleAmong(decided: Decided[]): Side | null {
  const blocks = (some: Decided[]): number => some.reduce((sum, { segment }) => sum + blocksIn(segment), 0);
  const held = (['left', 'right'] as const).find(
    (side) => 2 * blocks(decided.filter(({ middle }) => middle === side)) > blocks(decided),
  );
  return held ?? null;
}

/**
 * A channel as if the clip were only this segment; its peak is known to within the crest of a block. The blocks beside a boundary
 * hold something of either, and are left out.
 */
function within(channel: ChannelMeasurement, segment: BlockSpan): ChannelMeasurement {
  const trimmed = blocksIn(segment) > LEAST_TRIMMED_BLOCKS ? 1 : 0;
  const from = segment.startBlock === 0 ? 0 : segment.startBlock + trimmed;
  const to = segment.endBlock === channel.blockPower.length ? segment.endBlock : segment.endBlock - trimmed;
  const blockPower = channel.blockPower.subarray(from, to);
  const loudest = blockPower.reduce((a, b) => Math.max(a, b), 0);
  return {
    ...channel,
    peak: Math.min(channel.peak, Math.sqrt(loudest)),
    blockPower,
    blockSpeechPower: channel.blockSpeechPower.subarray(from, to),
  };
}

type Part = BlockSpan & Pick<SegmentVerdict, 'verdict' | 'side'>;

/** Neighbours with one verdict are one part; where nothing is heard belongs to what it stands beside. */
function joinAlike(decided: Decided[]): Part[] {
  const parts: Part[] = [];
  for (const {
    segment: { startBlock, endBlock },
    verdict,
    side,
  } of decided) {
    const last = parts.at(-1);
    if (last && (verdict === 'silent' || (last.verdict === verdict && last.side === side))) last.endBlock = endBlock;
    else if (last && last.verdict === 'silent') Object.assign(last, { endBlock, verdict, side });
    else parts.push({ startBlock, endBlock, verdict, side });
  }
  return parts;
}

/** Two microphones lean to whoever speaks: there only their noise tells. Sides that are the same, or of which one is empty, have no places to change. */
function exchangeUnder(
  verdict: PairVerdict,
  channels: [ChannelMeasurement, ChannelMeasurement],
  blockSeconds: number,
): PairReport['exchange'] {
  if (verdict !== 'two-mics' && verdict !== 'stereo' && verdict !== 'fake-stereo') return null;
  const found = exchangeOf(channels, blockSeconds);
  return verdict === 'two-mics' && found?.by === 'leaning' ? null : found;
}

/** RMS of L - R relative to L + R, in dB; -Infinity where the sides are equal. */
function nullDepth({ product, squares, differenceSquare }: PairMeasurement): number {
  const sumSquare = squares[0] + squares[1] + 2 * product;
  return differenceSquare === 0 ? -Infinity : dbFromPower(differenceSquare / Math.max(sumSquare, Number.MIN_VALUE));
}

function correlation({ product, squares }: PairMeasurement): number | null {
  const scale = Math.sqrt(squares[0] * squares[1]);
  return scale === 0 ? null : Math.max(-1, Math.min(1, product / scale));
}

/** How much level the mono sum (L + R) / 2 loses against the louder side, in dB; 0 where it loses nothing. */
function sumLoss({ product, squares }: PairMeasurement): number | null {
  const louder = Math.max(squares[0], squares[1]);
  if (louder === 0) return 0;
  const sumSquare = Math.max(0, (squares[0] + squares[1] + 2 * product) / 4);
  return levelOrNull(Math.max(0, dbFromPower(louder) - dbFromPower(sumSquare)));
}
