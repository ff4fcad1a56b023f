import type { BlockSpan } from '../../time/spans.ts';
import type { Measurement } from '../measurement.ts';
import { ONE_SIGNAL_NULL_DB } from '../boundaries.ts';
import { amplitudeFromDb } from '../../signal/decibels.ts';
import { ceilingOf, type Ceilings } from './clippedPeaks.ts';
import { placeJump } from './jump.ts';
import { evenedOut } from './movingGain.ts';
import { levelled, truePauses, type LevelledSound, type MatchInput } from './matchInput.ts';
import { matchPair, type PairMatch } from './pairMatch.ts';
import { PairSounds, type Apart } from './pairSounds.ts';
import { equallyLoud, wholeBandOf } from './pairSpectra.ts';
import type { SoundReader } from '../soundReader.ts';
import { withSoundRoom, type SoundRoom } from '../soundRoom.ts';
import { chooseStretches, type Stretch, type Stretches } from './stretches.ts';
import { asTheyWere, besideDrift, besideJump, besideMovingGain, besideSway, type Evening } from './undone.ts';

/** As many stretches as a sure answer needs. */
export const MOST_ACTIVE = 24;
const NEARLY_ONE_NULL_DB = -6;

/** Looks at `mostActive` stretches of two channels again, or fewer, within these blocks. null where nothing sounds. */
export async function lookAgain(
  measurement: Measurement,
  channels: [number, number],
  read: SoundReader,
  {
    blocks = wholeOf(measurement),
    mostActive = MOST_ACTIVE,
    excluded,
    asTheyAre = false,
    wholeBand = false,
  }: {
    blocks?: BlockSpan;
    mostActive?: number;
    excluded?: readonly BlockSpan[];
    /** Whether only what one fixed filter undoes is asked for: no clocks that run apart, no delay or gain that moves, no echo. */
    asTheyAre?: boolean;
    /** Whether the spectra up to what is heard are wanted whatever is found. */
    wholeBand?: boolean;
  } = {},
): Promise<PairMatch | null> {
  const { sampleRate, blockSeconds, frames } = measurement;
  const [left, right] = channels.map((channel) => measurement.channels[channel - 1]);
  const stretches = chooseStretches([left, right], {
    sampleRate,
    blockSeconds,
    ...blocks,
    frames,
    mostActive,
    excluded,
  });
  if (stretches.active.length === 0) return null;
  const ceilings: Ceilings = [ceilingOf(left), ceilingOf(right)];
  return withSoundRoom((room) =>
    matchStretches(stretches, { channels, ceilings }, sampleRate, { read, room }, { asTheyAre, wholeBand }),
  );
}

function wholeOf({ channels }: Measurement): BlockSpan {
  return { startBlock: 0, endBlock: channels[0].blockPower.length };
}

async function matchStretches(
  { active, pauses, unlike }: Stretches,
  { channels, ceilings }: { channels: [number, number]; ceilings: Ceilings },
  sampleRate: number,
  { read, room }: { read: SoundReader; room: SoundRoom },
  { asTheyAre, wholeBand }: { asTheyAre: boolean; wholeBand: boolean },
): Promise<PairMatch> {
  const stretchFrames = Math.min(...[...active, ...pauses, ...unlike].map((stretch) => stretch.frames));
  const pair = new PairSounds({ read, room, channels, ceilings, sampleRate, stretchFrames });
  let asRead: MatchInput | null = null;
  const matched = async (apart: Apart, evening: Evening | null = null): Promise<PairMatch> => {
    const sounds: LevelledSound[] = [];
    const every = evening ? Math.ceil(active.length / evening.most) : 1;
    const chosen = active.filter((_, i) => i % every === 0);
    // One after another: a frame of a clip with many channels is read whole.
    const isPeek = asTheyAre || (evening !== null && chosen.length < active.length);
    const looked = [chosen, pauses, isPeek ? [] : unlike.filter((stretch) => !isAcross(stretch, apart))];
    for (const { startFrame } of looked.flat()) {
      const sound = await pair.at(startFrame, apart);
      if (!evening) {
        sounds.push(sound);
        continue;
      }
      const { left } = sound;
      const shift = evening.shift >> pair.halvings;
      const even = evenedOut(left, sound.right, { shift, sampleRate: pair.rate, room });
      sounds.push(levelled({ startFrame, left, right: even.right }));
      // In its pauses each side has noise of its own, which no gain moves.
      if (evening.stretches.length < chosen.length) evening.stretches.push(even.moments);
    }
    const [activeSounds, quietSounds, unlikeSounds] = looked.map(({ length }) => sounds.splice(0, length));
    // An echo is there from the first look on, or not at all.
    const mayEcho = apart === null && evening === null && !asTheyAre;
    const input = {
      sampleRate: pair.rate,
      margin: pair.margin,
      ...equallyLoud({ active: activeSounds, pauses: truePauses(activeSounds, quietSounds) }, room),
      unlike: unlikeSounds,
      room,
    };
    if (mayEcho) asRead = input;
    const mark = room.mark();
    const match = matchPair(input, { mayEcho, isPeek });
    room.backTo(mark);
    return pair.halvings === 0 ? match : atRate(match, 2 ** pair.halvings);
  };
  const besideCuts = async (plain: PairMatch): Promise<PairMatch> => {
    if (ceilings.every((ceiling) => ceiling === Infinity) || plain.plainNullDb <= ONE_SIGNAL_NULL_DB) return plain;
    const isMore = await pair.giveBackCuts(active, Math.round(plain.delaySamples));
    return isMore ? asTheyWere(plain, await matched(null)) : plain;
  };
  const undone = async (first: PairMatch): Promise<PairMatch> => {
    const plain = await besideDrift(first, sampleRate, matched);
    if (plain.driftPpm !== 0) return plain;
    const joined = await besideJump(plain, matched, (jump, match) =>
      placeJump(jump, { channels, delaySamples: match.delaySamples, factor: factorOf(match) }, sampleRate, read),
    );
    const even = joined.jump === null ? await besideMovingGain(joined, (evening) => matched(null, evening)) : joined;
    return asRead ? besideSway(even, asRead, sampleRate) : even;
  };
  const first = await besideCuts(await matched(null));
  if (asTheyAre) return first;
  const match = await undone(first);
  // Of one signal as it is neither side lacks anything. Where the sides are nearly one, which of them lacks something decides which is kept.
  const isDisguised = match.plainNullDb > ONE_SIGNAL_NULL_DB && match.matchedNullDb <= NEARLY_ONE_NULL_DB;
  if (pair.halvings === 0 || !(wholeBand || isDisguised)) return match;
  // All stretches: in half of them a third of an octave may sink into the noise, and nobody would see what it lacks.
  const lag = Math.round(match.delaySamples);
  const heard = { active: await pair.heard(active, lag), quiet: await pair.heard(pauses, lag) };
  return { ...match, wholeBand: wholeBandOf(heard, pair.heardRate, room) };
}

/** Whether the delay may jump within a stretch: no one delay undoes that. The stretch that follows the jump may hold it still. */
function isAcross({ startFrame, frames }: Stretch, apart: Apart): boolean {
  if (apart === null || 'slope' in apart) return false;
  return startFrame < apart.latestFrame + frames && startFrame + frames > apart.earliestFrame;
}

/** What the right side is of the left one, negative where it is upside down. */
export function factorOf({ gainDb, polarity }: PairMatch): number {
  return polarity * amplitudeFromDb(gainDb);
}

/** Delays in samples of the clip's own rate. */
function atRate(match: PairMatch, factor: number): PairMatch {
  const scaled = <T extends { delaySamples: number }>(arrival: T): T => ({
    ...arrival,
    delaySamples: arrival.delaySamples * factor,
  });
  return {
    ...match,
    delaySamples: match.delaySamples * factor,
    arrival: scaled(match.arrival),
    arrivals: match.arrivals.map(scaled),
    correlogram: { ...match.correlogram, perSample: match.correlogram.perSample / factor },
    leaning: {
      left: scaled(match.leaning.left),
      right: scaled(match.leaning.right),
    },
  };
}
