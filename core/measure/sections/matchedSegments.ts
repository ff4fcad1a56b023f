import { powerFromDb } from '../../signal/decibels.ts';
import { CLEAR_ARRIVAL, DISGUISED_NULL_DB, ONE_SIDED_DB, SILENT_PEAK } from '../boundaries.ts';
import { blocksIn, type BlockSpan } from '../../time/spans.ts';
import { findCopyChanges, type Change } from './copyChanges.ts';
import { LEAST_JUMP_SAMPLES, placeJump } from '../pair/jump.ts';
import { factorOf, lookAgain, MOST_ACTIVE } from '../pair/lookAgain.ts';
import type { ChannelMeasurement, MatchedSegment, Measurement, PairMeasurement } from '../measurement.ts';
import type { PairMatch } from '../pair/pairMatch.ts';
import { areExactCopies, pairSegments } from './pairSegments.ts';
import type { PairSegment, PairState } from './pairState.ts';
import { placeBoundary, type PairReader, type SurePart } from './placeBoundary.ts';
import type { SoundReader } from '../soundReader.ts';
import { unlikeMoments } from './unlikeMoments.ts';

const MOST_SEGMENTS = 6;
// Stretches of each but the longest segment.
const ACTIVE_BESIDE = 12;
// Of copies one stretch says what all say.
const ACTIVE_OF_COPIES = 3;
const MOST_BOUNDARIES = 12;
// Block sums are right to the two seconds in which they look for noise.
const MOST_BESIDE = 20;
const LEAST_SURE = 5;
// Where one side has nothing of its own there is nothing to compare.
const ONE_SIDED = new Set<PairState>(['left-only', 'right-only']);

// Copies under noise or a coder come to half of it; rooms and other people to more.
const COPIES_INCOHERENT = 0.25;
const OTHER_ARRIVAL_SECONDS = 0.003;

/** Part of a pair's time, and the blocks in it that are surely of its kind. */
interface Part {
  segment: PairSegment;
  sure: BlockSpan;
}

/** Cuts a pair's time into segments where the sound has its boundaries, and says what the sides of each have in common. */
export async function matchedSegments(
  measurement: Measurement,
  pair: PairMeasurement,
  read: SoundReader,
): Promise<MatchedSegment[]> {
  const [left, right] = pair.channels.map((channel) => measurement.channels[channel - 1]);
  const blocks = left.blockPower.length;
  const silent = [left, right].map(({ peak }) => peak < SILENT_PEAK);
  if (silent[0] || silent[1])
    return [
      { startBlock: 0, endBlock: blocks, begins: [0, 0], state: silent[1] ? 'left-only' : 'right-only', match: null },
    ];
  const segments = pairSegments([left, right], pair, measurement.blockSeconds);
  const longest = [...segments].sort((a, b) => blocksIn(b) - blocksIn(a)).slice(0, MOST_SEGMENTS);
  const look = (blocks: BlockSpan, most = MOST_ACTIVE): Promise<PairMatch | null> =>
    lookAgain(measurement, pair.channels, read, { blocks, mostActive: most, excluded: pair.losses });
  const peek = (blocks: BlockSpan, most?: number): Promise<PairMatch | null> =>
    lookAgain(measurement, pair.channels, read, { blocks, mostActive: most, excluded: pair.losses, asTheyAre: true });
  // What is sure of a short segment may be too short to see anything.
  const lookWithin = ({ sure, segment }: Part, most: number): Promise<PairMatch | null> =>
    look(blocksIn(sure) >= LEAST_SURE ? sure : segment, most);
  // Of one signal as it is block sums show every moment, and not those alone that were looked at.
  const withMoments = (match: PairMatch, sure: BlockSpan): PairMatch =>
    match.plainNullDb <= DISGUISED_NULL_DB
      ? { ...match, unlike: Math.max(match.unlike, unlikeMoments([left, right], pair, sure)) }
      : match;
  const matched: MatchedSegment[] = [];
  for (const [s, segment] of segments.entries()) {
    if (!longest.includes(segment) || (ONE_SIDED.has(segment.state) && isAlone(left, right, segment))) {
      matched.push({ ...segment, match: null });
      continue;
    }
    const most = areExactCopies([left, right], pair, segment)
      ? ACTIVE_OF_COPIES
      : segment === longest[0]
        ? MOST_ACTIVE
        : ACTIVE_BESIDE;
    const sure = surePart(segment, segments[s + 1]);
    const match = await lookWithin({ segment, sure }, most);
    const changes =
      match && segment.state === 'different'
        ? await findCopyChanges(match, sure, measurement.blockSeconds, peek, (part) =>
            mayBeCopies(match, part, measurement),
          )
        : [];
    if (changes.length === 0) matched.push({ ...segment, match: match && withMoments(match, sure) });
    else
      for (const part of cutAt(changes, segment))
        matched.push({ ...part.segment, match: await lookWithin(part, most) });
  }
  const segmented = await placed(matched, measurement, async (startFrame, frames) => {
    const [one, other] = await read(startFrame, frames, pair.channels);
    return [one, other];
  });
  return withJumps(segmented, pair.channels, measurement, read);
}

/** Where one copy gives way to another that comes later or earlier the delay jumps: to which frame is what single samples tell. */
async function withJumps(
  segments: MatchedSegment[],
  channels: [number, number],
  { sampleRate, blockSeconds }: Measurement,
  read: SoundReader,
): Promise<MatchedSegment[]> {
  const told = segments.map((segment) => ({ ...segment }));
  for (const [s, { match, begins }] of segments.entries()) {
    const before = told[s - 1]?.match;
    if (!before || !match || before.jump || before.driftPpm !== 0 || match.driftPpm !== 0) continue;
    if (Math.max(before.matchedNullDb, match.matchedNullDb) > DISGUISED_NULL_DB) continue;
    const samples = match.delaySamples - before.delaySamples;
    if (Math.abs(samples) < LEAST_JUMP_SAMPLES) continue;
    const [earliestFrame, latestFrame] = [begins[0] - 1, begins[1] + 1].map((block) =>
      Math.max(0, Math.round(block * blockSeconds * sampleRate)),
    );
    const copies = { channels, delaySamples: before.delaySamples, factor: factorOf(before) };
    const atFrame = await placeJump({ earliestFrame, latestFrame, samples }, copies, sampleRate, read);
    told[s - 1].match = { ...before, jump: { atFrame, samples } };
  }
  return told;
}

/** Whether what single stretches show of a part leaves it open that one side is the other in disguise; those that show nothing do. */
function mayBeCopies(
  { arrivals, delaySamples }: PairMatch,
  { startBlock, endBlock }: BlockSpan,
  { sampleRate, blockSeconds }: Measurement,
): boolean {
  const inside = arrivals.filter(({ startFrame }) => {
    const block = startFrame / sampleRate / blockSeconds;
    return block >= startBlock && block < endBlock;
  });
  // At an arrival that is not theirs copies do not agree.
  const open = inside.filter(
    ({ incoherent, delaySamples: own, prominence }) =>
      incoherent <= COPIES_INCOHERENT ||
      (prominence >= CLEAR_ARRIVAL && Math.abs(own - delaySamples) > OTHER_ARRIVAL_SECONDS * sampleRate),
  );
  return open.length >= inside.length / 2;
}

/** Whether one side is so soft that it is alone whatever it holds. A steady side that is not may hold the other's sound, and is looked at. */
function isAlone(left: ChannelMeasurement, right: ChannelMeasurement, { startBlock, endBlock }: BlockSpan): boolean {
  const [one, other] = [left, right].map(({ blockSpeechPower }) => {
    let sum = 0;
    for (let i = startBlock; i < endBlock; i++) sum += blockSpeechPower[i];
    return sum;
  });
  return Math.min(one, other) * powerFromDb(ONE_SIDED_DB) <= Math.max(one, other);
}

/** What of a segment is surely of its kind, in blocks. */
function surePart({ startBlock, endBlock, begins: [, latest] }: PairSegment, next: PairSegment | undefined): BlockSpan {
  const earliest = next ? next.begins[0] : endBlock;
  const margin = (length: number): number => Math.max(0, Math.min(MOST_BESIDE, Math.floor(length / 6)));
  return {
    startBlock: startBlock === 0 ? 0 : latest + margin(endBlock - latest),
    endBlock: next ? earliest - margin(earliest - startBlock) : endBlock,
  };
}

function cutAt(changes: Change[], segment: PairSegment): Part[] {
  const parts: Part[] = [];
  let startBlock = segment.startBlock;
  let begins = segment.begins;
  for (const { earliest, latest } of [...changes, { earliest: segment.endBlock, latest: segment.endBlock }]) {
    const endBlock = Math.round((earliest + latest) / 2);
    parts.push({
      segment: { startBlock, endBlock, begins, state: segment.state },
      sure: { startBlock: Math.max(startBlock, begins[1]), endBlock: earliest },
    });
    [startBlock, begins] = [endBlock, [earliest, latest]];
  }
  return parts;
}

/** Moves the boundaries to where the sound has them. */
async function placed(
  segments: MatchedSegment[],
  { sampleRate, blockSeconds, frames }: Measurement,
  read: PairReader,
): Promise<MatchedSegment[]> {
  const moved = segments.map((segment) => ({ ...segment }));
  // The last block may reach beyond the clip, where there is not even noise.
  const wholeBlocks = Math.floor(frames / sampleRate / blockSeconds);
  const sure = (segment: MatchedSegment, next: MatchedSegment | undefined): SurePart => {
    const { startBlock, endBlock } = surePart(segment, next);
    return { startBlock, endBlock: Math.min(endBlock, wholeBlocks), delaySamples: segment.match?.delaySamples ?? 0 };
  };
  // Those that block sums leave open the widest come first.
  const openFor = (s: number): number => segments[s].begins[1] - segments[s].begins[0];
  const boundaries = Array.from(segments.keys())
    .slice(1)
    .sort((a, b) => openFor(b) - openFor(a))
    .slice(0, MOST_BOUNDARIES);
  for (const s of boundaries) {
    const before = sure(segments[s - 1], segments[s]);
    const after = sure(segments[s], segments[s + 1]);
    const at = await placeBoundary(before, after, { sampleRate, blockSeconds }, read);
    if (at !== null) [moved[s - 1].endBlock, moved[s].startBlock] = [at, at];
  }
  return moved;
}
