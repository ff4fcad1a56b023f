import type { PairReport, Section } from '../../schema/inspection.ts';
import type { ClipVerdict, PairVerdict, Side } from '../../schema/verdict.ts';
import { sayDecibels, sayNumber } from '../../signal/sayDecibels.ts';
import { sayTime } from '../../time/sayTime.ts';
import { capital, channelName } from '../channelName.ts';
import { cutOffSide } from '../copies.ts';
import { PAIR_REACH_MS } from '../boundaries.ts';
import { isDoubtful } from '../confidence.ts';
import { describeDeadSide, describeSilence, sayOnly } from './deadSide.ts';
import { causeOfDisguise, describeDisguise, evidenceOfDisguise, suggestForDisguise } from './disguise.ts';
import { causeOfStereo, describeStereo, suggestForStereo } from './stereo.ts';
import {
  suggest,
  type ClipVerdictEntry,
  type GlyphPart,
  type Noticed,
  type PairFacts,
  type PairVerdictEntry,
} from './entry.ts';

export const NOTHING_RECORDED = 'There is nothing to repair: check whether another take has the sound.';

const left = (opacity?: number): GlyphPart => ({ disc: opacity ? 15 : 11, radius: 8, ink: 'left', opacity });
const empty = (at: number): GlyphPart => ({ ring: at, radius: 7.4, ink: 'soft', dashed: true });

/** A verdict is one entry here, words and all: whatever is said or shown of it comes from it. In the order of what presses most. */
export const VERDICTS: { [V in ClipVerdict]: V extends PairVerdict ? PairVerdictEntry : ClipVerdictEntry } = {
  'one-sided': {
    label: 'One-sided',
    tone: 'fix',
    glyph: (side) => (side === 'right' ? [empty(11), { disc: 29, radius: 8, ink: 'right' }] : [left(), empty(29)]),
    inSetup: (side) => `${side === 'left' ? 'right' : 'left'} side empty`,
    inSections: (side) => `${side} side only`,
    sentences: (facts) => {
      const { pair, reports, speech } = facts;
      const dead = reports[pair.side === 'left' ? 1 : 0];
      return {
        headline: `${sayOnly(dead, isDoubtful(pair))} the ${pair.side} side carries ${speech ? 'speech' : 'sound'}.`,
        detail: describeDeadSide(dead, 2, isDoubtful(pair)),
      };
    },
    finding: oneSidedFinding,
    cause: ({ side }) => {
      const input = side === 'left' ? 1 : 2;
      return {
        cause: `One microphone on input ${input} of a two-input recorder set to stereo.`,
        advice: `Set the recorder to mono, or send input ${input} to both sides, before the next take.`,
      };
    },
    suggestion: ({ pair: { channels, side } }) => {
      const [live, dead] = side === 'left' ? channels : [channels[1], channels[0]];
      return suggest(
        'fill',
        `The ${side} side on both sides plays everywhere; the other side holds nothing to lose.`,
        live,
        [dead],
      );
    },
    evidence: () => ['spoken', 'balance'],
  },

  'two-mics': {
    label: 'Two microphones',
    tone: 'fix',
    glyph: () => [
      { disc: 9, radius: 8, ink: 'left' },
      { path: 'M20 1v18', ink: 'ink' },
      { disc: 31, radius: 8, ink: 'right' },
    ],
    inSetup: () => 'two microphones',
    inSections: () => 'two microphones',
    sentences: ({ pair, sampleRate }) =>
      isDoubtful(pair)
        ? {
            headline: 'These may be two microphones.',
            detail: isNearlyOne(pair)
              ? 'Much of it is the same on both sides, but not all of it: listen to each side alone.'
              : 'The sides differ more than one stereo pair would, but not by much: listen to each side alone.',
          }
        : { headline: 'Two microphones, one on each side.', detail: describeMicrophones(pair, sampleRate) },
    finding: ({ pair }) => ({
      severity: 'fix',
      channels: pair.channels,
      message: 'Two microphones stand on one stereo pair: played as it is, people sit at the far left and right.',
    }),
    cause: () => ({
      cause: 'Two microphones recorded to one stereo file, one a channel.',
      advice: 'Record each microphone as its own mono track.',
    }),
    suggestion: ({ pair }) =>
      suggest(
        'split',
        'Each microphone becomes a mono file, to be placed and levelled on its own.',
        null,
        pair.channels,
      ),
    evidence: () => ['spoken', 'balance', 'arrival'],
  },

  'fake-stereo': {
    label: 'Fake stereo',
    tone: 'fix',
    glyph: () => [
      { ring: 14, radius: 7.2, ink: 'mono' },
      { path: 'M7 10h14', ink: 'mono' },
      { disc: 24, radius: 8, ink: 'mono' },
    ],
    inSetup: () => 'one sound in disguise',
    inSections: () => 'one sound in disguise',
    sentences: ({ pair, reports, speech, sampleRate }) => {
      const cutOff = cutOffSide(pair, reports);
      const what = `one ${speech ? 'voice' : 'sound'} dressed up as stereo.`;
      return {
        headline: isDoubtful(pair) ? `This may be ${what}` : capital(what),
        detail: `${describeDisguise(pair, sampleRate)}${cutOff ? ` The ${cutOff} one is cut off at full scale, the other is whole.` : ''}`,
      };
    },
    finding: ({ pair: { channels, disguise } }) => ({
      severity: 'fix',
      channels,
      message: `Both sides carry one signal${disguise.length > 0 ? `, made to look different by ${listOf(disguise)}` : ''}.`,
    }),
    cause: causeOfDisguise,
    suggestion: ({ pair, reports, clearest }) =>
      suggestForDisguise(pair, { clearest, cutOff: cutOffSide(pair, reports) }),
    evidence: evidenceOfDisguise,
  },

  changing: {
    label: 'Changes part-way',
    tone: 'look',
    glyph: () => [
      left(0.85),
      { path: 'M25 2a8 8 0 0 1 0 16', ink: 'right', filled: true },
      { path: 'M25 2a8 8 0 0 0 0 16', ink: 'soft', dashed: true },
    ],
    inSetup: () => 'changes part-way',
    inSections: () => 'changing',
    sentences: ({ sections }) => ({ headline: 'This clip changes on the way.', detail: describeSections(sections) }),
    // Its parts are noticed by their own verdicts.
    finding: () => null,
    cause: () => ({
      cause: 'The wiring or the settings changed while recording, or takes of different kinds were joined.',
      advice: 'Stop and start a new clip whenever a cable moves.',
    }),
    suggestion: suggestForParts,
    evidence: () => ['spoken', 'balance'],
  },

  'dual-mono': {
    label: 'Same on both sides',
    tone: 'fine',
    glyph: () => [
      { ring: 22, radius: 7.5, ink: 'mono' },
      { disc: 19, radius: 8, ink: 'mono' },
    ],
    inSetup: () => 'the same on both sides',
    inSections: () => 'the same on both sides',
    sentences: ({ pair: { nullDepthDb } }) => ({
      headline: 'The same on both sides.',
      detail:
        nullDepthDb === null
          ? 'Left minus right leaves nothing at all.'
          : `Left minus right leaves ${sayDecibels(nullDepthDb, 'dB', 0)}: only what noise or coding added.`,
    }),
    finding: ({ pair }) => ({
      severity: 'note',
      channels: pair.channels,
      message: 'Both sides carry the same signal at the same level and time.',
    }),
    cause: () => ({
      cause: 'A mono source recorded or exported as two channels.',
      advice: 'A mono file says the same in half the space.',
    }),
    suggestion: ({ pair: { channels } }) =>
      suggest('select', 'Either side is the whole recording: one channel is enough.', channels[0], [channels[0]]),
    evidence: () => ['spoken', 'null', 'scope'],
  },

  stereo: {
    label: 'Stereo',
    tone: 'fine',
    glyph: () => [left(0.85), { disc: 25, radius: 8, ink: 'right', opacity: 0.8 }],
    inSetup: () => 'stereo',
    inSections: () => 'stereo',
    sentences: ({ pair }) => describeStereo(pair),
    finding: () => null,
    cause: causeOfStereo,
    suggestion: ({ pair }) => suggestForStereo(pair),
    evidence: () => ['spoken', 'arrival', 'scope'],
  },

  mono: {
    label: 'Mono',
    tone: 'fine',
    glyph: () => [{ disc: 20, radius: 8, ink: 'mono' }],
    inSetup: () => 'one channel',
  },

  multichannel: {
    label: 'Several channels',
    tone: 'fine',
    glyph: (_, channels) => {
      const shown = Math.min(channels, 4);
      return Array.from({ length: shown }, (_, i) => ({
        disc: (40 / (shown + 1)) * (i + 1),
        radius: 3.6,
        ink: i % 2 === 0 ? 'left' : 'right',
      }));
    },
    inSetup: () => 'several channels',
  },

  silent: {
    label: 'Silent',
    tone: 'look',
    glyph: () => [empty(11), empty(29)],
    inSetup: () => 'nothing recorded',
    inSections: () => 'nothing',
    sentences: ({ reports }) => ({ headline: 'Nothing was recorded.', detail: describeSilence(reports) }),
    finding: ({ pair, reports }) =>
      reports.length === 2
        ? { severity: 'look', channels: pair.channels, message: 'Neither side carries a programme.' }
        : null,
    cause: () => ({
      cause: 'The input was not plugged in, switched off, or turned all the way down.',
      advice: 'Watch the meters while someone speaks before you record.',
    }),
    suggestion: () => suggest('review', NOTHING_RECORDED),
    evidence: () => [],
  },
};

// Of two sides that null this deep most is the same, whatever the rest is.
const NEARLY_ONE_DB = -12;

function isNearlyOne({ matchedNullDepthDb }: PairReport): boolean {
  return (matchedNullDepthDb ?? -Infinity) <= NEARLY_ONE_DB;
}

function oneSidedFinding({ pair, reports }: PairFacts, { side }: Section): Noticed {
  const [first, second] = pair.channels;
  const total = reports.length;
  const [live, dead] = side === 'left' ? [first, second] : [second, first];
  const changes = pair.verdict === 'changing';
  const doubt = !changes && isDoubtful(pair);
  const where = changes ? '' : ` ${describeDeadSide(reports[dead - 1], total, doubt)}`;
  const only = sayOnly(reports[dead - 1], doubt);
  // Of many channels it is said which two are compared: elsewhere there may be more.
  const message =
    total > 2
      ? `Of channels ${first} and ${second} ${only.toLowerCase()} ${channelName(live, total)} carries a programme.${where}`
      : `${only} ${channelName(live, total)} carries the programme.${where}`;
  return { severity: 'fix', channels: [dead], message };
}

function describeMicrophones({ delaySamples, gainDb, commonArrival, talkers }: PairReport, sampleRate: number): string {
  if (!commonArrival) return 'Each side hears a voice of its own, and nothing of the other.';
  const delay = (delaySamples * 1000) / sampleRate;
  if (Math.abs(delay) < 0.5)
    return talkers === 1
      ? 'One talker stands nearer to one microphone than to the other: it hears less of the room.'
      : 'People take turns being louder on one side and quieter on the other.';
  const [near, far] = delay > 0 ? ['left', 'right'] : ['right', 'left'];
  const level =
    Math.abs(gainDb ?? 0) >= 1 && (gainDb ?? 0) * delay < 0
      ? ` and ${sayDecibels(Math.abs(gainDb ?? 0), 'dB', 0)} quieter`
      : '';
  const why =
    Math.abs(delay) > PAIR_REACH_MS
      ? 'further apart than a stereo pair'
      : talkers === 1
        ? 'one talker, near and far'
        : 'a microphone for each talker';
  return `What is near the ${near} one reaches the ${far} one ${sayNumber(Math.abs(delay))} ms later${level}: ${why}.`;
}

const MOST_SECTIONS_SAID = 3;

function describeSections(sections: Section[]): string {
  const shown = sections.slice(0, MOST_SECTIONS_SAID).map(({ startSeconds, verdict, side }) => {
    const entry = VERDICTS[verdict];
    const words = 'inSections' in entry ? entry.inSections(side) : entry.label;
    return startSeconds === 0 ? `${capital(words)} at first` : `from ${sayTime(startSeconds, 1)} ${words}`;
  });
  const more = sections.length - MOST_SECTIONS_SAID;
  return `${shown.join(', ')}${more > 0 ? `, and ${more} more sections` : ''}.`;
}

function suggestForParts({ pair, sections }: PairFacts) {
  const whole = wholeSide(sections);
  if (!whole || isDoubtful(pair))
    return suggest('review', 'The clip is not the same all the way through: look at its sections.');
  const [from, to] = whole === 'left' ? pair.channels : [pair.channels[1], pair.channels[0]];
  return suggest('fill', `The ${whole} side carries everything all the way through; the other drops out.`, from, [to]);
}

/** The side that holds everything: elsewhere both sides are the same, or it alone carries the programme. */
function wholeSide(sections: Section[]): Side | null {
  const sides = new Set(sections.filter(({ verdict }) => verdict === 'one-sided').map(({ side }) => side));
  const known = sections.every(
    ({ verdict }) => verdict === 'one-sided' || verdict === 'dual-mono' || verdict === 'silent',
  );
  return known && sides.size === 1 ? [...sides][0] : null;
}

function listOf(parts: readonly string[]): string {
  return parts.length < 2 ? parts.join('') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`;
}
