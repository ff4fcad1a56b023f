import type { Sway } from '../../schema/inspection.ts';
import { DISGUISED_GAIN_DB, DISGUISED_NULL_DB } from '../boundaries.ts';
import { lowerRate } from '../spectra/lowerRate.ts';
import { depthFromResidual } from '../spectra/nullDepths.ts';
import { dbFromPower, powerFromDb } from '../../signal/decibels.ts';
import { percentile } from '../stream/noiseFloor.ts';
import type { SoundRoom } from '../soundRoom.ts';
import { middleAndSide, type MatchInput, type StretchSound } from './matchInput.ts';
import { SwayTracker, type Undone } from './swayTracker.ts';

// A voice and a copy of it whose delay goes to and fro, as a chorus makes it: at the copy's delay of each moment it is that voice again.

interface UndoneSway extends Sway {
  /** What is left of left minus right with the copy undone, against left plus right. */
  nullDb: number;
}

// A voice is known by what lies below 5 kHz.
const HIGHEST_RATE = 14_000;
const FEW_STRETCHES = 3;
const MOST_STRETCHES = 12;
/** Of the whitened sound that agrees along the path: copies that sway come to 0.16 to 0.45, two microphones, pairs and mixes to 0.07 to 0.12 and seldom more. */
const LEAST_HEIGHT = 0.13;
// One talker's copy at the other's microphone sways as well, with all of the other left over.
const HOPELESS_LEFT = 0.4;
// What a few stretches scatter by.
const FEW_SCATTER_DB = 6;
// Less of the voice itself than this beside its copy is none.
const ALONE_SHARE = 0.01;
/**
 * A coder leaves no deep null of anything, but it makes no copy either. Of half the difference nothing is half the sum as it is, and all but this share a
 * copy of it that sways: pairs and microphones with nothing as it is leave four fifths.
 */
const WIDE_LEFT = 0.16;
/** Or a side is the other and, beside it, so much of a copy of it that sways, but for this share: pairs, mixes and microphones leave a third. */
const BESIDE_LEFT = 0.06;
const BESIDE_DIRECT = 0.4;
const BESIDE_COPY = 0.3;
/** Or next to nothing is left of so many stretches: copies that sway quickly came to 0.25 and more (of which the rest was led astray), microphones, pairs and mixes to none. */
const LEAST_FOUND = 0.2;
/** How far the delay goes to and fro within a stretch; chosen on eight copies, as another's talkers on a microphone stand still in it. */
const LEAST_SWAY_SECONDS = 0.00005;

/** A reference and what may hold a copy of it. */
interface Split {
  kind: 'side' | 'wide';
  /** The reference's side. */
  whole: 'left' | 'right' | null;
  of: (sound: StretchSound, room: SoundRoom) => [reference: Float64Array, other: Float64Array];
}

const SPLITS: Split[] = [
  { kind: 'side', whole: 'left', of: ({ left, right }) => [left, right] },
  { kind: 'side', whole: 'right', of: ({ left, right }) => [right, left] },
  {
    kind: 'wide',
    whole: null,
    of: (sound, room) => {
      const { left: middle, right: side } = middleAndSide(sound, room);
      return [middle, side];
    },
  },
];

/** What a split shows with its copy undone. */
interface Candidate extends Undone {
  split: Split;
  nullDb: number;
  /** As deep as one signal in disguise comes, with no coder's noise over it. */
  isNull: boolean;
}

/** The least share of the stretches, and how far the delay goes in them, in samples. */
interface Found {
  share: number;
  sway: number;
}

/**
 * Whether so much of it is found surely, and goes to and fro there, that the rest was only not followed: a sound that repeats itself may be looked for a period
 * off. No room leaves so little of any stretch, and what one microphone hears of the other's talkers stands still in each.
 */
function isFoundSurely({ direct, swaying, delays, found }: Undone, least: Found): boolean {
  if (found.length < least.share * delays.length || Math.abs(swaying) <= BESIDE_COPY * Math.abs(direct)) return false;
  const within = found.map((course) => percentile(course, 0.9) - percentile(course, 0.1));
  return percentile(within, 0.5) >= least.sway;
}

/** Whether a copy was found that only a coder's noise lies over. @param scatter what a few stretches scatter by, as a power */
function isCoded({ kind }: Split, { leftOver, direct, swaying }: Undone, scatter: number): boolean {
  if (kind === 'wide') return direct ** 2 < ALONE_SHARE * swaying ** 2 && leftOver < WIDE_LEFT * scatter;
  return (
    direct > BESIDE_DIRECT &&
    Math.abs(swaying) > BESIDE_COPY * direct &&
    leftOver < Math.min(0.5, BESIDE_LEFT * scatter)
  );
}

/** Looks for a copy that sways. null where there is none. @param plainNullDb with nothing undone */
export function swayBetween(input: MatchInput, plainNullDb: number): UndoneSway | null {
  let halvings = 0;
  while (input.sampleRate / 2 ** halvings > HIGHEST_RATE) halvings++;
  const lowered = (sound: StretchSound): StretchSound => ({
    startFrame: sound.startFrame,
    left: lowerRate(sound.left, halvings, input.room),
    right: lowerRate(sound.right, halvings, input.room),
  });
  const spread = (most: number): StretchSound[] => {
    const every = Math.ceil(input.active.length / most);
    return input.active.filter((_, i) => i % every === 0);
  };
  const rate = input.sampleRate / 2 ** halvings;
  const margin = Math.floor(input.margin / 2 ** halvings);
  const few = spread(FEW_STRETCHES).map(lowered);
  const tracker = new SwayTracker(rate, margin, few[0].left.length, input.room);
  let pauses: StretchSound[] | null = null;
  const wanted = (split: Split, sounds: StretchSound[], scatterDb: number, least: Found): Candidate | null => {
    // Mostly nobody asks for them.
    pauses ??= input.pauses.map(lowered);
    const [loud, quiet] = [sounds, pauses].map((some) => some.map((sound) => split.of(sound, input.room)));
    const undone = tracker.undo(loud, quiet);
    if (undone === null) return null;
    const nullDb =
      split.kind === 'wide' ? plainNullDb + dbFromPower(undone.leftOver) : depthFromResidual(undone.leftOver);
    const isNull = nullDb - scatterDb <= DISGUISED_NULL_DB && plainNullDb - nullDb + scatterDb >= DISGUISED_GAIN_DB;
    const isFound = isFoundSurely(undone, least) || isCoded(split, undone, powerFromDb(scatterDb));
    return isNull || isFound ? { ...undone, split, nullDb, isNull } : null;
  };
  let best: Candidate | null = null;
  for (const split of SPLITS) {
    // A copy is in every stretch but one in which a word begins or ends: most of a few show whether there is one.
    if (!mostOf(few, (sound) => tracker.height(...split.of(sound, input.room)) >= LEAST_HEIGHT)) continue;
    if (!mostOf(few, (sound) => (tracker.undo([split.of(sound, input.room)], [])?.leftOver ?? 1) <= HOPELESS_LEFT))
      continue;
    if (!wanted(split, few, FEW_SCATTER_DB, { share: 1 / few.length, sway: 0 })) continue;
    const found = wanted(split, spread(MOST_STRETCHES).map(lowered), 0, {
      share: LEAST_FOUND,
      sway: LEAST_SWAY_SECONDS * rate,
    });
    if (found?.isNull) return undoneSway(found, rate);
    // Under a coder's noise a side explains the other both ways, one of them better.
    if (found && (!best || found.leftOver < best.leftOver)) best = found;
  }
  return best && undoneSway(best, rate);
}

/** Whether it is so in more of them than not; no more are asked than that takes. */
function mostOf(sounds: StretchSound[], isSo: (sound: StretchSound) => boolean): boolean {
  let so = 0;
  let not = 0;
  for (const sound of sounds) {
    if (isSo(sound)) so++;
    else not++;
    if (2 * so > sounds.length || 2 * not >= sounds.length) break;
  }
  return 2 * so > sounds.length;
}

function undoneSway({ split, direct, swaying, delays, nullDb }: Candidate, rate: number): UndoneSway {
  return {
    kind: split.kind === 'wide' ? 'wide' : direct ** 2 < ALONE_SHARE * swaying ** 2 ? 'alone' : 'beside',
    whole: split.whole,
    leastSeconds: percentile(delays.flat(), 0.05) / rate,
    mostSeconds: percentile(delays.flat(), 0.95) / rate,
    nullDb,
  };
}
