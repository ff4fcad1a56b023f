import type { ChannelMeasurement, PairMeasurement } from '../measure/measurement.ts';
import { levelOrNull, type PairReport, type Section } from '../schema/inspection.ts';
import { dbFromPower } from '../signal/decibels.ts';
import { channelActivity, type ChannelActivity } from './channelActivity.ts';
import { decideStretch, type StretchVerdict } from './stretchVerdict.ts';

export interface PairDecision {
  report: PairReport;
  sections: Section[];
}

interface Clock {
  sampleRate: number;
  blockSeconds: number;
  durationSeconds: number;
}

export function decidePair(
  pair: PairMeasurement, channels: [ChannelMeasurement, ChannelMeasurement], activity: [ChannelActivity, ChannelActivity], clock: Clock,
): PairDecision {
  const decided = pair.segments.map((segment) => {
    const whole = pair.segments.length === 1;
    // What was recorded differently has noise of its own, and a loudness of its own.
    const inside = whole ? channels : channels.map((channel) => within(channel, segment)) as typeof channels;
    const does = whole ? activity : inside.map((channel) => channelActivity(channel, clock.blockSeconds)) as typeof activity;
    return { segment, ...decideStretch({ segment, channels: inside, activity: does, sampleRate: clock.sampleRate, blockSeconds: clock.blockSeconds }) };
  });
  const parts = joinAlike(decided);
  const longest = decided.reduce((a, b) => (b.segment.to - b.segment.from > a.segment.to - a.segment.from ? b : a));
  const changes = parts.length > 1;
  const match = longest.segment.match;
  const [left, right] = channels;
  return {
    report: {
      channels: pair.channels,
      verdict: changes ? 'changing' : parts[0].verdict,
      side: changes ? null : parts[0].side,
      disguise: changes ? [] : longest.disguise,
      confidence: Math.min(...decided.map(({ confidence }) => confidence)),
      correlation: correlation(pair),
      balanceLu: levelOrNull(left.loudnessLufs - right.loudnessLufs),
      nullDepthDb: levelOrNull(nullDepth(pair)),
      matchedNullDepthDb: match ? levelOrNull(match.matchedNullDb) : levelOrNull(nullDepth(pair)),
      // Where nothing is shared nothing was moved.
      gainDb: match ? levelOrNull(match.gainDb) : 0,
      delaySamples: match?.delaySamples ?? 0,
      polarity: match && match.polarity < 0 ? 'inverted' : 'normal',
      sumLossDb: sumLoss(pair),
    },
    sections: parts.map((part, i) => ({
      startSeconds: i === 0 ? 0 : part.from * clock.blockSeconds,
      endSeconds: i === parts.length - 1 ? clock.durationSeconds : part.to * clock.blockSeconds,
      verdict: part.verdict,
      side: part.side,
    })),
  };
}

// Shorter segments need all they have.
const LEAST_TRIMMED_BLOCKS = 10;

/**
 * A channel as if the clip were only this segment; its peak is known to within the crest of a block. The blocks beside a boundary
 * hold something of either, and are left out.
 */
function within(channel: ChannelMeasurement, segment: { from: number; to: number }): ChannelMeasurement {
  const trimmed = segment.to - segment.from > LEAST_TRIMMED_BLOCKS ? 1 : 0;
  const from = segment.from === 0 ? 0 : segment.from + trimmed;
  const to = segment.to === channel.blockPower.length ? segment.to : segment.to - trimmed;
  const blockPower = channel.blockPower.subarray(from, to);
  const loudest = blockPower.reduce((a, b) => Math.max(a, b), 0);
  return { ...channel, peak: Math.min(channel.peak, Math.sqrt(loudest)), blockPower, blockSpeechPower: channel.blockSpeechPower.subarray(from, to) };
}

interface Part extends Pick<StretchVerdict, 'verdict' | 'side'> {
  from: number;
  to: number;
}

/** Neighbours with one verdict are one part; where nothing is heard belongs to what it stands beside. */
function joinAlike(decided: (StretchVerdict & { segment: { from: number; to: number } })[]): Part[] {
  const parts: Part[] = [];
  for (const { segment: { from, to }, verdict, side } of decided) {
    const last = parts.at(-1);
    if (last && (verdict === 'silent' || (last.verdict === verdict && last.side === side))) last.to = to;
    else if (last && last.verdict === 'silent') Object.assign(last, { to, verdict, side });
    else parts.push({ from, to, verdict, side });
  }
  return parts;
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
