import { sayTime } from '../../time/sayTime.ts';
import type { PairReport, Suggestion, Sway } from '../../schema/inspection.ts';
import type { Side } from '../../schema/verdict.ts';
import { sayDecibels, sayNumber } from '../../signal/sayDecibels.ts';
import { ONE_SIGNAL_NULL_DB } from '../../measure/boundaries.ts';
import { suggest, type Cause, type EvidenceName } from './entry.ts';

// One signal on both sides, made to look different: what is said of each disguise.

export function describeDisguise(
  {
    disguise,
    gainDb,
    gainMovesDb,
    limited,
    narrower,
    echoSeconds,
    sway,
    delaySamples,
    driftPpm,
    jump,
    matchedNullDepthDb,
  }: PairReport,
  sampleRate: number,
): string {
  const undone = `Undone, the difference falls to ${sayDecibels(matchedNullDepthDb, 'dB', 0)}.`;
  if (echoSeconds > 0)
    return `Both sides are one signal: its echo, ${sayNumber(1000 * echoSeconds, 1)} ms later, is added on one side and taken off on the other. ${undone}`;
  if (sway) return `Both sides are one signal: ${saySway(sway)}. ${undone}`;
  if (gainMovesDb > 0 && limited === 'left')
    return `Both sides are one signal, the left one through a limiter or an automatic gain: its level moves by ${sayDecibels(gainMovesDb, 'dB')} against the right one. ${undone}`;
  if (narrower?.side === 'left')
    return `Both sides are one signal, but the left one holds nothing but ${sayBand(narrower)} of it. ${undone}`;
  const parts: string[] = [];
  const gain = gainDb ?? 0;
  const delay = delaySamples;
  if (disguise.includes('polarity')) parts.push('upside down');
  if (gainMovesDb > 0)
    parts.push(`through a limiter or an automatic gain that moves its level by ${sayDecibels(gainMovesDb, 'dB')}`);
  else if (disguise.includes('level'))
    parts.push(`${sayDecibels(Math.abs(gain), 'dB')} ${gain > 0 ? 'louder' : 'quieter'}`);
  if (driftPpm !== 0) parts.push(describeDrift(delay / sampleRate, driftPpm));
  else if (jump) parts.push(describeJump(delay / sampleRate, jump, sampleRate));
  else if (disguise.includes('delay'))
    parts.push(
      `${sayNumber(Math.abs(delay))} samples (${sayNumber((1000 * Math.abs(delay)) / sampleRate, 2)} ms) ${delay > 0 ? 'later' : 'earlier'}`,
    );
  if (narrower) parts.push(`of which it holds nothing but ${sayBand(narrower)}`);
  else if (disguise.includes('filter')) parts.push('filtered');
  return `The right side is the left one, ${parts.join(', ')}. ${undone}`;
}

/** "a copy of it whose delay goes to and fro between 8.1 and 12.3 ms is added on the left" */
export function saySway({ kind, whole, leastSeconds, mostSeconds }: Sway): string {
  const [least, most] = [leastSeconds, mostSeconds].map((seconds) => sayNumber(1000 * seconds, 1));
  const copy = least === most ? `${least} ms later` : `whose delay goes to and fro between ${least} and ${most} ms`;
  if (kind === 'wide') return `a copy ${copy} is added on one side and taken off on the other`;
  const side = whole === 'left' ? 'right' : 'left';
  return kind === 'alone' ? `the ${side} one is a copy ${copy}` : `a copy ${copy} is added on the ${side}`;
}

/** Under this much nobody speaks of a delay: it would be told as 0.00 ms. */
const IN_STEP_SECONDS = 5e-6;

function describeDrift(delaySeconds: number, driftPpm: number): string {
  const side = (value: number): string => (value > 0 ? 'later' : 'earlier');
  const start =
    Math.abs(delaySeconds) < IN_STEP_SECONDS
      ? 'in step at the start'
      : `${sayNumber(1000 * Math.abs(delaySeconds), 2)} ms ${side(delaySeconds)} at the start`;
  return `${start} and ${sayNumber((Math.abs(driftPpm) * 60) / 1000, 2)} ms ${side(driftPpm)} with each minute`;
}

function describeJump(delaySeconds: number, jump: NonNullable<PairReport['jump']>, sampleRate: number): string {
  const say = (seconds: number): string =>
    Math.abs(seconds) < IN_STEP_SECONDS
      ? 'in step'
      : `${sayNumber(1000 * Math.abs(seconds), 2)} ms ${seconds > 0 ? 'later' : 'earlier'}`;
  return `${say(delaySeconds)} until ${sayTime(jump.atSeconds, 2)} and ${say(delaySeconds + jump.delaySamples / sampleRate)} from there on`;
}

/** "300 Hz to 3.4 kHz". */
export function sayBand({ lowHz, highHz }: { lowHz: number; highHz: number }): string {
  const say = (hz: number): string =>
    hz < 1000 ? `${sayNumber(10 * Math.round(hz / 10), 0)} Hz` : `${sayNumber(hz / 1000, 1)} kHz`;
  return `${say(lowHz)} to ${say(highHz)}`;
}

export function causeOfDisguise({
  disguise,
  driftPpm,
  jump,
  gainMovesDb,
  narrower,
  echoSeconds,
  sway,
}: PairReport): Cause {
  if (gainMovesDb > 0)
    return {
      cause: 'One input of the recorder had its limiter or automatic gain switched on, the other not.',
      advice: 'Switch automatic gain off, and give both inputs the same settings.',
    };
  if (narrower !== null)
    return {
      cause: 'One side went over a telephone, a poor radio link or a smaller microphone.',
      advice: 'Use the other side, and check what the narrow one was plugged into.',
    };
  if (echoSeconds > 0 || sway)
    return {
      cause: 'A widening effect on a mono source.',
      advice: 'Record the voice dry and mono; effects belong to the mix.',
    };
  if (disguise.includes('filter'))
    return {
      cause: 'A widening effect, or an equaliser on one side of a mono source.',
      advice: 'Record the voice dry and mono; effects belong to the mix.',
    };
  if (jump !== null)
    return {
      cause:
        'One side lost or doubled a piece of sound on its way: a network, a wireless link or a computer that did not keep up.',
      advice: 'Send one microphone to both sides inside the recorder, not over two paths.',
    };
  if (driftPpm !== 0)
    return {
      cause: 'The two sides come from two devices, each with a clock of its own.',
      advice: 'Record one microphone on one device, or let both devices follow one clock.',
    };
  if (disguise.includes('delay'))
    return {
      cause: 'One side took a longer way: a wireless or camera input with its own delay, or a widening effect.',
      advice: 'Send one microphone to both sides inside the recorder, not over two paths.',
    };
  if (disguise.includes('polarity'))
    return {
      cause:
        'One side is wired or switched the wrong way round: a balanced cable into an unbalanced stereo input does this.',
      advice: 'Use a cable or adapter made for that input, and check the sum in mono.',
    };
  return {
    cause: 'One microphone on both inputs, with their gains set differently, or a softer copy kept for safety.',
    advice: 'Keep one of them; link the two gain controls where both are meant to be alike.',
  };
}

/** Either side is the whole of it, so what is kept is the better side, or both brought into line. */
export function suggestForDisguise(
  {
    channels: [left, right],
    disguise,
    gainDb,
    gainMovesDb,
    limited,
    narrower,
    echoSeconds,
    sway,
    delaySamples,
    driftPpm,
    jump,
    matchedNullDepthDb,
  }: PairReport,
  { clearest, cutOff }: { clearest: number | null; cutOff: Side | null },
): Suggestion {
  // What comes later and nulls no deeper may be a microphone of its own, a hand away in a dry place: nothing of it is left out unheard.
  const mayBeTwo = disguise.includes('delay') && (matchedNullDepthDb ?? -Infinity) > ONE_SIGNAL_NULL_DB;
  if (mayBeTwo && cutOff !== null)
    return suggest(
      'review',
      `The peaks of the ${cutOff} side are cut off, and the other one comes at another time: listen, and keep the better one.`,
    );
  if (cutOff !== null) {
    const [side, whole] = cutOff === 'left' ? ['right', right] : ['left', left];
    return suggest('select', `The ${side} side has the peaks whole that are cut off on the other.`, whole, [whole]);
  }
  if (echoSeconds > 0)
    return suggest('sum', 'Summed, the echo that was added on one side and taken off on the other is gone.', null, [
      left,
      right,
    ]);
  if (sway?.kind === 'wide')
    return suggest('sum', 'Summed, the copy that was added on one side and taken off on the other is gone.', null, [
      left,
      right,
    ]);
  if (sway) {
    const [side, whole] = sway.whole === 'left' ? ['left', left] : ['right', right];
    return suggest('select', `The ${side} side is the voice as it was recorded; the other is an effect.`, whole, [
      whole,
    ]);
  }
  if (limited !== null && narrower !== null && narrower.side !== limited)
    return suggest(
      'review',
      'Something was taken from either side: the band of one is narrower, the gain of the other moves. Listen, and keep the better one.',
    );
  if (limited !== null) {
    const [whole, squeezed] = limited === 'left' ? [right, left] : [left, right];
    const side = limited === 'left' ? 'right' : 'left';
    return suggest(
      'fill',
      `The ${side} side is as it was recorded; the other went through a limiter or an automatic gain.`,
      whole,
      [squeezed],
    );
  }
  if (gainMovesDb > 0)
    return suggest(
      'review',
      'One side went through a limiter or an automatic gain, but not which: listen and keep the other.',
    );
  if (mayBeTwo && (narrower !== null || disguise.includes('filter')))
    return suggest(
      'review',
      'One side comes later and sounds different: a copy of less, or a microphone of its own close by. Listen, and keep the better one.',
    );
  if (narrower !== null) {
    const [side, whole] = narrower.side === 'left' ? ['left', right] : ['right', left];
    return suggest(
      'select',
      `The ${side} side holds nothing but ${sayBand(narrower)}: the other is the whole recording.`,
      whole,
      [whole],
    );
  }
  const keep = clearest === right ? right : left;
  if (disguise.includes('filter'))
    return suggest(
      'select',
      'One side is a filtered copy of the other: the clearer one is the whole recording.',
      keep,
      [keep],
    );
  if (driftPpm !== 0)
    return suggest(
      'select',
      'The sides run apart, so no delay lines them up: one of them is the whole recording.',
      keep,
      [keep],
    );
  if (jump !== null)
    return suggest(
      'select',
      'The delay between the sides changes, so no delay lines them up: one of them is the whole recording.',
      keep,
      [keep],
    );
  if (disguise.includes('delay')) {
    const [early, late] = delaySamples > 0 ? [left, right] : [right, left];
    return suggest('align', 'Brought into line, both sides carry the same signal and sum cleanly.', late, [early]);
  }
  if (disguise.includes('polarity'))
    return suggest('invert', 'Turned over, both sides carry the same signal and no longer cancel.', left, [right]);
  const [louder, quieter] = (gainDb ?? 0) > 0 ? [right, left] : [left, right];
  return suggest('balance', 'At one level, the voice sits in the middle.', quieter, [louder]);
}

export function evidenceOfDisguise({ disguise }: PairReport): EvidenceName[] {
  if (disguise.includes('filter')) return ['spoken', 'null', 'spectrum'];
  return disguise.includes('delay') ? ['spoken', 'null', 'arrival'] : ['spoken', 'null', 'scope'];
}
