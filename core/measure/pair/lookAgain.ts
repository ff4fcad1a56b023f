import type { BlockSpan } from '../../time/spans.ts';
import { slowlyShifted } from '../../signal/slowShift.ts';
import { lowerRate } from '../spectra/lowerRate.ts';
import type { Measurement } from '../measurement.ts';
import { ONE_SIGNAL_NULL_DB } from '../boundaries.ts';
import { amplitudeFromDb } from '../../signal/decibels.ts';
import { ceilingOf, factorBetweenCuts, giveBackPeaks, type Ceilings, type Sides } from './clippedPeaks.ts';
import type { Drift } from './drift.ts';
import { placeJump, type Jump } from './jump.ts';
import { evenedOut } from './movingGain.ts';
import { truePauses, type MatchInput, type StretchSound } from './matchInput.ts';
import { matchMargin, matchPair, wholeBandOf, type PairMatch, type WholeBand } from './pairMatch.ts';
import type { SoundReader } from '../soundReader.ts';
import { withSoundRoom, type SoundRoom } from '../soundRoom.ts';
import { chooseStretches, type Stretch, type Stretches } from './stretches.ts';
import { asTheyWere, besideDrift, besideJump, besideMovingGain, besideSway, type Evening } from './undone.ts';

/** As many stretches as a sure answer needs. */
export const MOST_ACTIVE = 24;
// Above this rate every second sample is enough for a second look: what voices, rooms and crossovers tell lies below 10 kHz.
const HIGHEST_RATE = 25000;
// What a telephone, a coder or a poor link takes off lies higher: where the sides are nearly one signal which of them lacks it decides which is kept.
const HIGHEST_HEARD_RATE = 50000;
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
  let halvings = 0;
  while (sampleRate / 2 ** halvings > HIGHEST_RATE) halvings++;
  const rate = sampleRate / 2 ** halvings;
  const margin = matchMargin(rate);
  const length = Math.min(...[...active, ...pauses, ...unlike].map((stretch) => stretch.frames)) >> halvings;
  const around = margin << halvings;
  const frames = (length << halvings) + 2 * around;
  let asRead: MatchInput | null = null;
  let peaks: { shift: number; factor: number } | null = null;
  const inputs = [0, 1].map(() => room.take(frames));
  /** What was read as it is, at the lowered rate. */
  const kept = new Map<number, Sides>();
  const soundAt = async (startFrame: number, apart: Drift | Jump | null): Promise<Sides> => {
    const known = apart === null ? kept.get(startFrame) : undefined;
    if (known) return known;
    const [left, right] =
      apart === null
        ? await read(startFrame - around, frames, channels, halvings > 0 ? inputs : inputs.map(() => room.take(frames)))
        : 'slope' in apart
          ? await readWithoutDrift(startFrame - around, frames, apart)
          : await readBesideJump(startFrame, frames, apart);
    if (peaks) giveBackPeaks({ left, right }, peaks.shift, ceilings, peaks.factor);
    const sound = { left: lowerRate(left, halvings, room), right: lowerRate(right, halvings, room) };
    if (apart === null) kept.set(startFrame, sound);
    return sound;
  };
  const matched = async (apart: Drift | Jump | null, evening: Evening | null = null): Promise<PairMatch> => {
    const sounds: StretchSound[] = [];
    const every = evening ? Math.ceil(active.length / evening.most) : 1;
    const chosen = active.filter((_, i) => i % every === 0);
    // One after another: a frame of a clip with many channels is read whole.
    const isPeek = asTheyAre || (evening !== null && chosen.length < active.length);
    const looked = [chosen, pauses, isPeek ? [] : unlike.filter((stretch) => !isAcross(stretch, apart))];
    for (const { startFrame } of looked.flat()) {
      const { left, right } = await soundAt(startFrame, apart);
      if (!evening) {
        // Matching scales what it is given, and what was read may be looked at again.
        sounds.push({ startFrame, left: room.copyOf(left), right: room.copyOf(right) });
        continue;
      }
      const even = evenedOut(left, right, { shift: evening.shift >> halvings, sampleRate: rate, room });
      sounds.push({ startFrame, left: room.copyOf(left), right: even.right });
      if (evening.stretches.length < chosen.length + pauses.length) evening.stretches.push(even.moments);
    }
    const [activeSounds, quietSounds, unlikeSounds] = looked.map(({ length }) => sounds.splice(0, length));
    // An echo is there from the first look on, or not at all.
    const mayEcho = apart === null && evening === null && !asTheyAre;
    const input = {
      sampleRate: rate,
      margin,
      active: activeSounds,
      pauses: truePauses(activeSounds, quietSounds),
      unlike: unlikeSounds,
      room,
    };
    if (mayEcho) asRead = input;
    const mark = room.mark();
    const match = matchPair(input, { mayEcho, isPeek });
    room.backTo(mark);
    return halvings === 0 ? match : atRate(match, 2 ** halvings);
  };
  /** The right side read where it is, as its clock goes. */
  const readWithoutDrift = async (start: number, count: number, { slope }: Drift): Promise<Float64Array[]> => {
    const whole = Math.round(slope * (start + count / 2));
    const [left] = await read(start, count, [channels[0]]);
    const [right] = await read(start + whole, count, [channels[1]]);
    return [left, slowlyShifted(right, (i) => slope * (start + i) - whole)];
  };
  /** The right side of what lies after a jump read so much later that it comes as before. */
  const readBesideJump = async (startFrame: number, count: number, jump: Jump): Promise<Float64Array[]> => {
    const start = startFrame - around;
    if (startFrame < jump.latestFrame) return read(start, count, channels);
    const whole = Math.round(jump.samples);
    const [left] = await read(start, count, [channels[0]]);
    const [right] = await read(start + whole, count, [channels[1]]);
    return [left, slowlyShifted(right, () => jump.samples - whole)];
  };
  /** What was cut off on one side of a signal that both carry is given back from the other, from here on. */
  const besideCuts = async (plain: PairMatch): Promise<PairMatch> => {
    if (ceilings.every((ceiling) => ceiling === Infinity) || plain.plainNullDb <= ONE_SIGNAL_NULL_DB) return plain;
    const shift = Math.round(plain.delaySamples);
    const sounds: { left: Float64Array; right: Float64Array }[] = [];
    for (const { startFrame } of active) {
      const [left, right] = await read(startFrame - around, frames, channels);
      sounds.push({ left, right });
    }
    const factor = factorBetweenCuts(sounds, shift, ceilings);
    if (factor === null) return plain;
    peaks = { shift, factor };
    kept.clear();
    return asTheyWere(plain, await matched(null));
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
  /** The sides up to what is heard, the right one as much earlier as it mostly is later. */
  const heard = async (delaySamples: number): Promise<WholeBand> => {
    let fewer = halvings;
    while (fewer > 0 && sampleRate / 2 ** (fewer - 1) <= HIGHEST_HEARD_RATE) fewer--;
    const lag = Math.round(delaySamples);
    const count = length << halvings;
    const soundsOf = async (some: readonly Stretch[]): Promise<StretchSound[]> => {
      const sounds: StretchSound[] = [];
      for (const { startFrame } of some) {
        const [left] = await read(startFrame, count, [channels[0]], [room.take(count)]);
        const [right] = await read(startFrame + lag, count, [channels[1]], [room.take(count)]);
        sounds.push({ startFrame, left: lowerRate(left, fewer, room), right: lowerRate(right, fewer, room) });
      }
      return sounds;
    };
    // All of them: in half of them a third of an octave may sink into the noise, and nobody would see what it lacks.
    return wholeBandOf(await soundsOf(active), await soundsOf(pauses), sampleRate / 2 ** fewer);
  };
  const first = await besideCuts(await matched(null));
  if (asTheyAre) return first;
  const match = await undone(first);
  // Of one signal as it is neither side lacks anything.
  const isDisguised = match.plainNullDb > ONE_SIGNAL_NULL_DB && match.matchedNullDb <= NEARLY_ONE_NULL_DB;
  const isHeard = halvings > 0 && (wholeBand || isDisguised);
  return isHeard ? { ...match, wholeBand: await heard(match.delaySamples) } : match;
}

/** Whether the delay may jump within a stretch: no one delay undoes that. The stretch that follows the jump may hold it still. */
function isAcross({ startFrame, frames }: Stretch, apart: Drift | Jump | null): boolean {
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
