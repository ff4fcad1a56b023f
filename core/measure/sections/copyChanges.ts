import {
  CODED_LOW_NULL_DB,
  CODED_NULL_DB,
  DISGUISED_GAIN_DB,
  DISGUISED_NULL_DB,
  MOMENT_SCATTER_DB,
  ONE_SIGNAL_NULL_DB,
} from '../boundaries.ts';
import { blocksIn, type BlockSpan } from '../../time/spans.ts';
import type { PairMatch } from '../pair/pairMatch.ts';

export type Nulls = Pick<PairMatch, 'plainNullDb' | 'lowPlainNullDb' | 'matchedNullDb' | 'gainDb'>;

/** Looks at `most` stretches within these blocks of the pair in question; null where nothing sounds. */
export type Look = (blocks: BlockSpan, most?: number) => Promise<Nulls | null>;

/** A boundary lies between the end of the block before `earliest` and the start of block `latest`. */
export interface Change {
  earliest: number;
  latest: number;
}

/** What two sides are: one signal as it is, one in disguise, or two that differ. */
type Kind = 'one' | 'disguised' | 'apart';

// A copy this much quieter is bleed: somebody speaks while the other listens.
const BLEED_GAIN_DB = 18;
// Nearly nulls with no help; or coders made up its treble by themselves, and what lies below is nearly the same: a few stretches tell less.
const ONE_NULL_DB = ONE_SIGNAL_NULL_DB + MOMENT_SCATTER_DB;
const NEARLY_SAME_LOW_DB = CODED_LOW_NULL_DB + 10;
// Single looks scatter by a few decibels.
const LEAST_CONTRAST_DB = 8;
const PART_SECONDS = 1.5;
const FEWEST_PARTS = 3;
const MOST_PARTS = 5;
const STRETCHES_A_PART = 4;
const LEAST_SECONDS = FEWEST_PARTS * PART_SECONDS;
const WINDOW_SECONDS = 2;
const PRECISION_SECONDS = 1;
// What sounds at the end of a window is looked at for a little longer than the window lasts.
const BESIDE_SECONDS = 0.5;
// Closer together than this two changes are one, seen from either side.
const APART_SECONDS = 1;
// Shorter than a turn in a talk.
const TURN_SECONDS = 1;
const TURN_WINDOWS = 5;

/**
 * Finds where one signal, as it is or in disguise, gives way to two that differ, or the other way round, which block sums can't show. Parts of
 * the range are looked at, and between neighbours of different kinds the boundary is halved in.
 * @param mayBeCopies whether what is known of a part leaves it open: a part that is surely none need not be looked at
 */
export async function findCopyChanges(
  whole: Nulls,
  range: BlockSpan,
  blockSeconds: number,
  look: Look,
  mayBeCopies: (part: BlockSpan) => boolean = () => true,
): Promise<Change[]> {
  const seconds = blocksIn(range) * blockSeconds;
  if (kindOf(whole) !== 'apart' || seconds < LEAST_SECONDS) return [];
  const count = Math.max(FEWEST_PARTS, Math.min(MOST_PARTS, Math.floor(seconds / PART_SECONDS)));
  const edge = (part: number): number => range.startBlock + Math.round((part * blocksIn(range)) / count);
  const runs: Run[] = [];
  for (let p = 0; p < count; p++) {
    const part = { startBlock: edge(p), endBlock: edge(p + 1) };
    const match = mayBeCopies(part) ? await look(part, STRETCHES_A_PART) : whole;
    const last = runs.at(-1);
    if (!match) continue;
    if (last && kindOf(match) === kindOf(last.match)) Object.assign(last, { endBlock: part.endBlock, last: part });
    else if (!last || contrast(match, last.match) >= LEAST_CONTRAST_DB)
      runs.push({ ...part, match, first: part, last: part });
  }
  const changes: Change[] = [];
  for (let r = 1; r < runs.length; r++) changes.push(await narrowed(runs[r - 1], runs[r], blockSeconds, look));
  const deepest = Math.min(...runs.map(({ match }) => match.matchedNullDb));
  for (const [r, run] of runs.entries()) {
    const inner = {
      startBlock: changes[r - 1]?.latest ?? run.startBlock,
      endBlock: changes[r]?.earliest ?? run.endBlock,
    };
    if (runs.length > 1 && kindOf(run.match) === 'apart' && (await takesTurns(inner, deepest, blockSeconds, look)))
      return [];
  }
  return joined(changes, runs, APART_SECONDS / blockSeconds);
}

/** Neighbouring parts of one kind. */
interface Run extends BlockSpan {
  match: Nulls;
  first: BlockSpan;
  last: BlockSpan;
}

/** Steps from the copy towards the other part as long as what lies on the way is a copy all through. */
async function narrowed(before: Run, after: Run, blockSeconds: number, look: Look): Promise<Change> {
  const [window, beside] = [WINDOW_SECONDS, BESIDE_SECONDS].map((seconds) => Math.round(seconds / blockSeconds));
  const forwards = kindOf(before.match) !== 'apart';
  const copy = kindOf((forwards ? before : after).match);
  let [near, far] = forwards ? [before.endBlock, after.first.endBlock] : [after.startBlock, before.last.startBlock];
  // Where nothing sounds nothing is seen.
  let sure = near;
  while (Math.abs(far - near) * blockSeconds > PRECISION_SECONDS) {
    const middle = Math.round((near + far) / 2);
    const match = forwards
      ? await look({ startBlock: Math.max(before.startBlock, middle - window), endBlock: middle })
      : await look({ startBlock: middle, endBlock: Math.min(after.endBlock, middle + window) });
    if (match && kindOf(match) !== copy) far = middle;
    else {
      near = middle;
      if (match) sure = middle;
    }
  }
  return forwards
    ? { earliest: Math.max(before.startBlock + 1, sure - beside), latest: Math.min(after.endBlock - 1, far + beside) }
    : { earliest: Math.max(before.startBlock + 1, far - beside), latest: Math.min(after.endBlock - 1, sure + beside) };
}

/**
 * Two people with a microphone each: while one of them speaks, the sides are copies of one voice, and they differ only where both are in
 * one part. What differs all through differs in every short window as well.
 */
async function takesTurns(range: BlockSpan, deepestNullDb: number, blockSeconds: number, look: Look): Promise<boolean> {
  const window = Math.round(TURN_SECONDS / blockSeconds);
  const asDeep = Math.max(deepestNullDb, ONE_SIGNAL_NULL_DB) + LEAST_CONTRAST_DB;
  for (let w = 0; w < TURN_WINDOWS && blocksIn(range) >= window; w++) {
    const startBlock = range.startBlock + Math.round((w * (blocksIn(range) - window)) / (TURN_WINDOWS - 1));
    const match = await look({ startBlock, endBlock: startBlock + window }, STRETCHES_A_PART);
    if (match && kindOf(match) !== 'apart' && match.matchedNullDb < asDeep) return true;
  }
  return false;
}

/** What is too short between two of a kind is no part of its own, and they are one with it: what was found there is told of the whole. */
function joined(changes: Change[], runs: Run[], least: number): Change[] {
  const kept: (Change & { from: Kind })[] = [];
  for (const [c, change] of changes.entries()) {
    const last = kept.at(-1);
    if (!last || change.earliest - last.latest >= least) kept.push({ ...change, from: kindOf(runs[c].match) });
    else if (last.from === kindOf(runs[c + 1].match)) kept.pop();
    else last.latest = Math.max(last.latest, change.latest);
  }
  return kept.map(({ earliest, latest }) => ({ earliest, latest }));
}

function kindOf({ plainNullDb, matchedNullDb, lowPlainNullDb, gainDb }: Nulls): Kind {
  if (plainNullDb <= ONE_NULL_DB || (plainNullDb <= CODED_NULL_DB && lowPlainNullDb <= NEARLY_SAME_LOW_DB))
    return 'one';
  const deep = matchedNullDb <= DISGUISED_NULL_DB && plainNullDb - matchedNullDb >= DISGUISED_GAIN_DB;
  return deep && Math.abs(gainDb) < BLEED_GAIN_DB ? 'disguised' : 'apart';
}

/** How much deeper the deeper of two nulls is: with no help where one is a plain copy, after matching otherwise. */
function contrast(a: Nulls, b: Nulls): number {
  const plain = kindOf(a) === 'one' || kindOf(b) === 'one';
  return plain ? Math.abs(a.plainNullDb - b.plainNullDb) : Math.abs(a.matchedNullDb - b.matchedNullDb);
}
