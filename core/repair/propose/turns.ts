import type { Talk } from '../../measure/stream/talkMeter.ts';
import { percentile } from '../../measure/stream/noiseFloor.ts';
import type { Microphone, Turn, Turns } from '../../schema/repair.ts';
import { dbFromPower } from '../../signal/decibels.ts';
import type { BlockSpan } from '../../time/spans.ts';
import { learnTalkers, type Talkers } from './talkers.ts';

/** How microphones open and close unless a person says otherwise. */
const CLOSED_DB = -12;
const FADE_IN_SECONDS = 0.02;
const FADE_OUT_SECONDS = 0.06;

// A talker opens the microphone that hears so much more than the others' bleed would leave there, and keeps it open down to the second.
const OPENS_OVER_BLEED_DB = 4;
const STAYS_OVER_BLEED_DB = 1;
// The same over the noise of the pauses.
const OPENS_OVER_FLOOR_DB = 9;
const STAYS_OVER_FLOOR_DB = 5;
// So far below the loud half of a talker's own speech lie breath, chairs and the end of a room's decay.
const OPENS_UNDER_SPEECH_DB = 17;
const STAYS_UNDER_SPEECH_DB = 20;
// A word so much softer counts as well where nobody else could have left it there.
const ALONE_OVER_BLEED_DB = 9;
const SOFTER_ALONE_DB = 16;
// A room falls by 60 dB in 0.8 s or sooner: this much in a step of 20 ms.
const DECAY_A_STEP = 10 ** (-1.5 / 10);
// A talker's level elsewhere moves so far about what was learnt, as the head turns and the room answers.
const BLEED_MOVES_DB = 2;
// A turn ends where its talker is so far below the last words: from there on it is the room.
const LAST_WORDS_SECONDS = 0.4;
const UNDER_LAST_WORDS_DB = 18;
// A room falls by more than this in so long, unless it is a church; the end of a word may be held.
const HELD_SECONDS = 0.06;
const HELD_WITHIN_DB = 1.5;
// A laugh or a yes of under 0.4 s flips nothing; of a word of that length a little less stands out.
const LEAST_TURN_SECONDS = 0.36;
// A pause for breath or thought does not end a turn where nobody else takes it.
const PAUSE_SECONDS = 1.2;
const PAUSE_BESIDE_OTHERS_SECONDS = 0.5;
// What begins softly is open in time, and the end of a word is not cut.
const LEAD_SECONDS = 0.03;
const TAIL_SECONDS = 0.02;
// Nearer together than this, levels hardly tell two talkers apart.
const SURE_APART_DB = 8;

export interface ProposedTurns {
  turns: Turns;
  /** How much quieter the noise of all microphones together is while one talker speaks, on average. */
  quieterDb: number;
  /** What is not sure, one sentence each. */
  warnings: string[];
}

/**
 * Who speaks when, on two to eight microphones with a talker each: a microphone is open while its talker speaks, told from the others' bleed by
 * how each is heard at all of them. Talkers who speak at once are open together.
 * @param talk of the microphones only @param channels their numbers in the clip @param frames the clip's length
 */
export function proposeTurns(
  talk: Talk,
  channels: readonly number[],
  sampleRate: number,
  frames: number,
): ProposedTurns {
  const talkers = learnTalkers(talk);
  const spoken = channels.map((_, talker) =>
    spokenBy(talker, talkers).map((span) => withoutDecay(span, talkers.powers[talker], talk.blockSeconds)),
  );
  const turns = spoken.map((spans, talker) => joinedOverPauses(spans, talker, spoken, talk.blockSeconds));
  const list = turns
    .flatMap((spans, talker) =>
      spans.map((span) => turnOf(span, channels[talker], talk.blockSeconds, sampleRate, frames)),
    )
    .sort((a, b) => a.startFrame - b.startFrame || a.channel - b.channel);
  const microphones = channels.map((channel): Microphone => ({
    channel,
    closedDb: CLOSED_DB,
    fadeInFrames: Math.round(FADE_IN_SECONDS * sampleRate),
    fadeOutFrames: Math.round(FADE_OUT_SECONDS * sampleRate),
    leadFrames: 0,
    tailFrames: 0,
  }));
  return {
    turns: { microphones, list: withoutOverlap(list) },
    quieterDb: quieterBy(talkers.floors),
    warnings: warningsOf(talkers, channels, turns),
  };
}

/** Where a talker speaks, in blocks: from where the own microphone clearly hears more than bleed and noise to where it no longer does. */
function spokenBy(talker: number, { powers, floors, bleedDb }: Talkers): BlockSpan[] {
  const own = powers[talker];
  const bleed = bleedInto(talker, powers, bleedDb, floors[talker]);
  const overSpeech = own.filter((power, t) => dbFromPower(power / bleed[t]) > OPENS_OVER_BLEED_DB);
  const speechPower = percentile(overSpeech, 0.7);
  const isOver = (t: number, overBleed: number, overFloor: number, underSpeech: number): boolean =>
    dbFromPower(own[t] / bleed[t]) > overBleed &&
    dbFromPower(own[t] / floors[talker]) > overFloor &&
    dbFromPower(own[t] / speechPower) >
      -underSpeech - (dbFromPower(own[t] / bleed[t]) > ALONE_OVER_BLEED_DB ? SOFTER_ALONE_DB : 0);
  const stays = (t: number): boolean => isOver(t, STAYS_OVER_BLEED_DB, STAYS_OVER_FLOOR_DB, STAYS_UNDER_SPEECH_DB);
  const spans: BlockSpan[] = [];
  for (let t = 0; t < own.length; t++) {
    if (!isOver(t, OPENS_OVER_BLEED_DB, OPENS_OVER_FLOOR_DB, OPENS_UNDER_SPEECH_DB)) continue;
    let startBlock = t;
    const after = spans.at(-1)?.endBlock ?? 0;
    while (startBlock > after && stays(startBlock - 1)) startBlock--;
    while (t + 1 < own.length && stays(t + 1)) t++;
    spans.push({ startBlock, endBlock: t + 1 });
  }
  return spans;
}

/**
 * What the others would leave at a talker's microphone: each talker's own power, as far as it is theirs, at the distance learnt. A room goes on for
 * a while after they have stopped, and longer at a distant microphone than at their own.
 */
function bleedInto(talker: number, powers: Float64Array[], bleedDb: number[][], floor: number): Float64Array {
  const factors = bleedDb.map((row) => 10 ** (row[talker] / 10));
  let lasting = 0;
  // What is left of a room is no louder than what was just heard.
  let heard = Infinity;
  return powers[talker].map((own, t) => {
    let sum = 1e-14;
    for (let other = 0; other < powers.length; other++) {
      if (other === talker) continue;
      // What that microphone has from this talker does not count against him.
      const back = 10 ** ((bleedDb[talker][other] + BLEED_MOVES_DB) / 10);
      sum += factors[other] * Math.max(0, powers[other][t] - back * own);
    }
    lasting = Math.max(sum, Math.min(lasting, heard) * DECAY_A_STEP);
    heard = Math.max(own, floor);
    return lasting;
  });
}

/** Pauses are closed: all the longer where nobody else speaks in them. Short bursts belong to a turn of the same talker nearby, or go. */
function joinedOverPauses(
  spans: BlockSpan[],
  talker: number,
  spoken: BlockSpan[][],
  blockSeconds: number,
): BlockSpan[] {
  const others = spoken.filter((_, other) => other !== talker).map((each) => withoutBursts(each, blockSeconds));
  const joined: BlockSpan[] = [];
  for (const span of spans) {
    const last = joined.at(-1);
    const pauseSeconds = last ? (span.startBlock - last.endBlock) * blockSeconds : Infinity;
    const taken =
      last &&
      others.some((each) => each.some((other) => other.startBlock < span.startBlock && other.endBlock > last.endBlock));
    if (last && pauseSeconds <= (taken ? PAUSE_BESIDE_OTHERS_SECONDS : PAUSE_SECONDS)) last.endBlock = span.endBlock;
    else joined.push({ ...span });
  }
  return withBurstsNear(joined, blockSeconds);
}

/** A word that is cut off from its sentence by a pause is no yes to somebody else: left out, its talker would be muted. */
function withBurstsNear(spans: BlockSpan[], blockSeconds: number): BlockSpan[] {
  const isBurst = ({ startBlock, endBlock }: BlockSpan): boolean =>
    (endBlock - startBlock) * blockSeconds < LEAST_TURN_SECONDS;
  const joined: BlockSpan[] = [];
  for (const span of spans) {
    const last = joined.at(-1);
    const isNear = last && (span.startBlock - last.endBlock) * blockSeconds <= PAUSE_SECONDS;
    if (isNear && isBurst(last) !== isBurst(span)) last.endBlock = span.endBlock;
    else joined.push({ ...span });
  }
  return joined.filter((span) => !isBurst(span));
}

/** Ends what was spoken where what is left is the room: it falls, and never rises or holds again. */
function withoutDecay({ startBlock, endBlock }: BlockSpan, power: Float64Array, blockSeconds: number): BlockSpan {
  let lastRise = startBlock;
  const held = Math.round(HELD_SECONDS / blockSeconds);
  const holds = 10 ** (-HELD_WITHIN_DB / 10);
  for (let t = startBlock, lasting = 0; t < endBlock; t++) {
    lasting *= DECAY_A_STEP;
    const isHeld = t - held >= startBlock && power[t] > holds * power[t - held];
    if (power[t] <= lasting && !isHeld) continue;
    lasting = Math.max(lasting, power[t]);
    lastRise = t;
  }
  const before = Math.round(LAST_WORDS_SECONDS / blockSeconds);
  const share = 10 ** (-UNDER_LAST_WORDS_DB / 10);
  const isRoom = (t: number): boolean =>
    power[t] <
    share * power.subarray(Math.max(startBlock, t - before), t).reduce((most, value) => Math.max(most, value), 0);
  while (endBlock - 1 > lastRise && isRoom(endBlock - 1)) endBlock--;
  return { startBlock, endBlock };
}

/** The words of one breath together, those that make less than a turn left out. */
function withoutBursts(spans: BlockSpan[], blockSeconds: number): BlockSpan[] {
  const joined: BlockSpan[] = [];
  for (const span of spans) {
    const last = joined.at(-1);
    if (last && (span.startBlock - last.endBlock) * blockSeconds <= PAUSE_BESIDE_OTHERS_SECONDS)
      last.endBlock = span.endBlock;
    else joined.push({ ...span });
  }
  return joined.filter((span) => (span.endBlock - span.startBlock) * blockSeconds >= LEAST_TURN_SECONDS);
}

function turnOf(
  { startBlock, endBlock }: BlockSpan,
  channel: number,
  blockSeconds: number,
  sampleRate: number,
  frames: number,
): Turn {
  const frameAt = (seconds: number): number => Math.max(0, Math.min(frames, Math.round(seconds * sampleRate)));
  return {
    channel,
    startFrame: frameAt(startBlock * blockSeconds - LEAD_SECONDS),
    endFrame: frameAt(endBlock * blockSeconds + TAIL_SECONDS),
  };
}

/** Lead and tail may make two turns of one microphone meet: then they are one. */
function withoutOverlap(turns: Turn[]): Turn[] {
  const lastOf = new Map<number, Turn>();
  const out: Turn[] = [];
  for (const turn of turns) {
    const last = lastOf.get(turn.channel);
    if (last && turn.startFrame <= last.endFrame) last.endFrame = Math.max(last.endFrame, turn.endFrame);
    else {
      out.push(turn);
      lastOf.set(turn.channel, turn);
    }
  }
  return out;
}

/** All open against one open and the others closed as far as they close, each talker's turn alike. */
function quieterBy(floors: number[]): number {
  const all = floors.reduce((sum, floor) => sum + floor, 0);
  const closed = 10 ** (CLOSED_DB / 10);
  const whileOne = floors.map((floor) => floor + closed * (all - floor));
  return dbFromPower(all / (whileOne.reduce((sum, power) => sum + power, 0) / floors.length));
}

function warningsOf({ apartDb }: Talkers, channels: readonly number[], turns: BlockSpan[][]): string[] {
  const never = channels.filter((_, talker) => turns[talker].length === 0);
  return [
    ...(apartDb < SURE_APART_DB
      ? [
          `The microphones hear each other nearly as loud as their own talkers (${Math.max(0, apartDb).toFixed(0)} dB apart): look at every turn.`,
        ]
      : []),
    ...never.map((channel) => `Nobody was heard to speak into channel ${channel}.`),
  ];
}
