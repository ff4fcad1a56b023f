import { chooseStretches, MOST_ACTIVE, type Stretch } from './stretches.ts';
import { matchMargin, matchPair, type PairMatch, type StretchSound } from './pairMatch.ts';
import { pairBySound, type ChannelsMeter } from './channelPairs.ts';
import { findCopyChanges, type Change } from './copyChanges.ts';
import { findDuplicates } from './duplicates.ts';
import type { MatchedSegment, Measurement, PairMeasurement } from './measurement.ts';
import { pairSegments, type PairSegment, type PairState } from './pairSegments.ts';
import { placeBoundary, type PairReader, type SurePart } from './placeBoundary.ts';
import { amplitudeFromDb } from '../signal/decibels.ts';
import { channelTone } from './channelTone.ts';
import { lowerRate } from './lowerRate.ts';

/** Reads frames of some channels (from 1); zeros where the clip has none. */
export type SoundReader = (startFrame: number, frames: number, channels: number[]) => Promise<Float64Array[]>;

// Above this rate every second sample is enough for a second look.
const HIGHEST_RATE = 50000;

// Below one step of 16-bit sound there is nothing to look at.
const SILENT_PEAK = amplitudeFromDb(-96);
const MOST_SEGMENTS = 6;
// Stretches of each but the longest segment.
const ACTIVE_BESIDE = 12;
const MOST_BOUNDARIES = 12;
// Block sums are right to the two seconds in which they look for noise.
const MOST_BESIDE = 20;
const LEAST_SURE = 5;
// Where one side has nothing of its own there is nothing to compare.
const ONE_SIDED = new Set<PairState>(['left-only', 'right-only']);

/**
 * Completes a measurement with what only single stretches show: which channels are copies and which are pairs, segments and
 * matches of the pairs, tones.
 */
export async function lookTwice(firstLook: Measurement, read: SoundReader, measureChannels: ChannelsMeter): Promise<Measurement> {
  const duplicates = await findDuplicates(firstLook, read);
  const measurement = await pairBySound({ ...firstLook, duplicates }, read, measureChannels);
  const pairs: PairMeasurement[] = [];
  for (const pair of measurement.pairs) pairs.push({ ...pair, segments: await matchedSegments(measurement, pair, read) });
  const channels = [];
  for (const channel of measurement.channels) {
    channels.push(channel.peak < SILENT_PEAK ? channel : { ...channel, tone: await channelTone(measurement, channel, read) });
  }
  return { ...measurement, channels, pairs };
}

async function matchedSegments(measurement: Measurement, pair: PairMeasurement, read: SoundReader): Promise<MatchedSegment[]> {
  const [left, right] = pair.channels.map((channel) => measurement.channels[channel - 1]);
  const blocks = left.blockPower.length;
  const silent = [left, right].map(({ peak }) => peak < SILENT_PEAK);
  if (silent[0] || silent[1]) return [{ from: 0, to: blocks, begins: [0, 0], state: silent[1] ? 'left-only' : 'right-only', match: null }];
  const look = (from: number, to: number, most = MOST_ACTIVE): Promise<PairMatch | null> => lookAgain(measurement, pair.channels, read, from, to, most);
  // What is sure of a short segment may be too short to see anything.
  const lookWithin = (sure: { from: number; to: number }, whole: { from: number; to: number }): Promise<PairMatch | null> => {
    const { from, to } = sure.to - sure.from >= LEAST_SURE ? sure : whole;
    return look(from, to, whole === longest[0] ? MOST_ACTIVE : ACTIVE_BESIDE);
  };
  const segments = pairSegments([left, right], pair, measurement.blockSeconds);
  const longest = [...segments].sort((a, b) => b.to - b.from - (a.to - a.from)).slice(0, MOST_SEGMENTS);
  const matched: MatchedSegment[] = [];
  for (const [s, segment] of segments.entries()) {
    if (!longest.includes(segment) || ONE_SIDED.has(segment.state)) {
      matched.push({ ...segment, match: null });
      continue;
    }
    const sure = surePart(segment, segments[s + 1]);
    const match = await lookWithin(sure, segment);
    const changes = match && segment.state === 'different' ? await findCopyChanges(match, sure.from, sure.to, measurement.blockSeconds, look) : [];
    if (changes.length === 0) matched.push({ ...segment, match });
    else for (const part of cutAt(changes, segment)) matched.push({ ...part, match: await lookWithin(part.sure, part) });
  }
  return placed(matched, measurement, async (start, frames) => {
    const [one, other] = await read(start, frames, pair.channels);
    return [one, other];
  });
}

/** What of a segment is surely of its kind, in blocks. */
function surePart({ from, to, begins: [, latest] }: PairSegment, next: PairSegment | undefined): { from: number; to: number } {
  const earliest = next ? next.begins[0] : to;
  const margin = (length: number): number => Math.max(0, Math.min(MOST_BESIDE, Math.floor(length / 6)));
  return {
    from: from === 0 ? 0 : latest + margin(to - latest), to: next ? earliest - margin(earliest - from) : to,
  };
}

function cutAt(changes: Change[], segment: PairSegment): (PairSegment & { sure: { from: number; to: number } })[] {
  const parts: (PairSegment & { sure: { from: number; to: number } })[] = [];
  let [from, begins] = [segment.from, segment.begins];
  for (const { earliest, latest } of [...changes, { earliest: segment.to, latest: segment.to }]) {
    const to = Math.round((earliest + latest) / 2);
    parts.push({ from, to, begins, state: segment.state, sure: { from: Math.max(from, begins[1]), to: earliest } });
    [from, begins] = [to, [earliest, latest]];
  }
  return parts;
}

/** Moves the boundaries to where the sound has them. */
async function placed(segments: MatchedSegment[], { sampleRate, blockSeconds, frames }: Measurement, read: PairReader): Promise<MatchedSegment[]> {
  const moved = segments.map((segment) => ({ ...segment }));
  // The last block may reach beyond the clip, where there is not even noise.
  const wholeBlocks = Math.floor(frames / sampleRate / blockSeconds);
  // Those that block sums leave open the widest come first.
  const openFor = (s: number): number => segments[s].begins[1] - segments[s].begins[0];
  const boundaries = Array.from(segments.keys()).slice(1).sort((a, b) => openFor(b) - openFor(a)).slice(0, MOST_BOUNDARIES);
  for (const s of boundaries) {
    const [before, after] = [segments[s - 1], segments[s]];
    const sure = (segment: MatchedSegment, next: MatchedSegment | undefined): SurePart => {
      const { from, to } = surePart(segment, next);
      return { from, to: Math.min(to, wholeBlocks), delaySamples: segment.match?.delaySamples ?? 0 };
    };
    const at = await placeBoundary(sure(before, after), sure(after, segments[s + 1]), { sampleRate, blockSeconds }, read);
    if (at !== null) [moved[s - 1].to, moved[s].from] = [at, at];
  }
  return moved;
}

/** Looks at `mostActive` stretches of two channels again, or fewer, within blocks `from` up to `to`. */
export async function lookAgain(
  measurement: Measurement, channels: [number, number], read: SoundReader, from = 0, to = measurement.channels[0].blockPower.length, mostActive = MOST_ACTIVE,
): Promise<PairMatch | null> {
  const { sampleRate, blockSeconds, frames } = measurement;
  const sides = channels.map((channel) => measurement.channels[channel - 1]);
  const { active, pauses } = chooseStretches([sides[0], sides[1]], { sampleRate, blockSeconds, from, to, frames, mostActive });
  if (active.length === 0) return null;
  let halvings = 0;
  while (sampleRate / 2 ** halvings > HIGHEST_RATE) halvings++;
  const rate = sampleRate / 2 ** halvings;
  const margin = matchMargin(rate);
  const length = Math.min(...[...active, ...pauses].map((stretch) => stretch.frames)) >> halvings;
  const fetch = async (stretch: Stretch): Promise<StretchSound> => {
    const around = margin << halvings;
    const [left, right] = await read(stretch.startFrame - around, (length << halvings) + 2 * around, channels);
    return { startFrame: stretch.startFrame, left: lowerRate(left, halvings), right: lowerRate(right, halvings) };
  };
  const sounds = await Promise.all([...active, ...pauses].map(fetch));
  const match = matchPair({ sampleRate: rate, margin, active: sounds.slice(0, active.length), pauses: sounds.slice(active.length) });
  return halvings === 0 ? match : atRate(match, 2 ** halvings);
}

/** Delays in samples of the clip's own rate. */
function atRate(match: PairMatch, factor: number): PairMatch {
  const scaled = <T extends { delaySamples: number }>(arrival: T): T => ({ ...arrival, delaySamples: arrival.delaySamples * factor });
  return {
    ...match,
    delaySamples: match.delaySamples * factor,
    arrival: scaled(match.arrival),
    arrivals: match.arrivals.map(scaled),
    leaning: {
      left: scaled(match.leaning.left), right: scaled(match.leaning.right),
    },
  };
}
