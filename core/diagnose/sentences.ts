import type { ChannelReport, PairReport, Section } from '../schema/inspection.ts';
import { sayDecibels, sayNumber } from '../signal/sayDecibels.ts';
import { channelName } from './channelName.ts';
import { LEAST_CONFIDENCE } from './confidence.ts';

// Where more than half of the time is digital silence.
const MOMENT_DB = 3;

export interface Sentences {
  headline: string;
  detail: string;
}

interface StereoFacts {
  pair: PairReport;
  reports: ChannelReport[];
  speech: boolean;
  sections: Section[];
  sampleRate: number;
}

/** The level of noise that goes on all the time: a knock has no part in it. null where there is none, but a moment of something. */
function noiseDbfs({ noiseFloorDbfs, rmsDbfs }: ChannelReport): number | null {
  // The floor is that of what sounds at all: a sound that lasts lies above its own floor.
  return noiseFloorDbfs === null || rmsDbfs === null || noiseFloorDbfs > rmsDbfs + MOMENT_DB ? null : noiseFloorDbfs;
}

/** What is heard where nothing should be missing. */
export function describeDeadSide(dead: ChannelReport, total: number, doubt: boolean): string {
  const subject = capital(channelName(dead.channel, total));
  if (dead.content === 'silent') return `${subject} is silent.`;
  if (dead.content === 'noise') {
    const levelDbfs = noiseDbfs(dead);
    if (levelDbfs === null) return `${subject} is silent but for a moment.`;
    const noise = (dead.humDbfs ?? -Infinity) > levelDbfs - 6 ? `mains hum (${dead.mainsHz} Hz)` : 'hiss';
    return `${subject} is ${noise} at ${sayDecibels(levelDbfs, 'dBFS', 0)}.`;
  }
  return doubt
    ? `${subject} has something faint or short: listen to it before you leave it out.`
    : `${subject} has only a faint trace of it.`;
}

/** A side that has something of its own, however little, may matter. */
export function sayOnly(dead: ChannelReport, doubt: boolean): string {
  return doubt && dead.content === 'programme' ? 'Probably only' : 'Only';
}

export function stereoSentences({ pair, reports, speech, sections, sampleRate }: StereoFacts): Sentences {
  const what = speech ? 'speech' : 'sound';
  const doubt = pair.confidence < LEAST_CONFIDENCE;
  switch (pair.verdict) {
    case 'one-sided': {
      const dead = reports[pair.side === 'left' ? 1 : 0];
      return {
        headline: `${sayOnly(dead, doubt)} the ${pair.side} side carries ${what}.`,
        detail: describeDeadSide(dead, 2, doubt),
      };
    }
    case 'dual-mono':
      return {
        headline: 'The same on both sides.',
        detail:
          pair.nullDepthDb === null
            ? 'Left minus right leaves nothing at all.'
            : `Left minus right leaves ${sayDecibels(pair.nullDepthDb, 'dB', 0)}: only what noise or coding added.`,
      };
    case 'fake-stereo':
      return {
        headline: 'One voice dressed up as stereo.'.replace('voice', speech ? 'voice' : 'sound'),
        detail: describeDisguise(pair, sampleRate),
      };
    case 'two-mics':
      return doubt
        ? {
            headline: 'These may be two microphones.',
            detail: 'The sides differ more than one stereo pair would, but not by much: listen to each side alone.',
          }
        : { headline: 'Two microphones, one on each side.', detail: describeMicrophones(pair, sampleRate) };
    case 'silent':
      return { headline: 'Nothing was recorded.', detail: silentDetail(reports) };
    case 'changing':
      return { headline: 'This clip changes on the way.', detail: describeSections(sections) };
    case 'stereo':
      return doubt
        ? {
            headline: 'Probably stereo: listen before you decide.',
            detail: 'Both sides carry sound of their own, but they are close to something else.',
          }
        : { headline: 'Stereo, as it should be.', detail: 'Both sides carry sound of their own from one place.' };
  }
}

function describeDisguise(
  { disguise, gainDb, delaySamples, matchedNullDepthDb }: PairReport,
  sampleRate: number,
): string {
  const parts: string[] = [];
  const gain = gainDb ?? 0;
  const delay = delaySamples;
  if (disguise.includes('polarity')) parts.push('upside down');
  if (disguise.includes('level')) parts.push(`${sayDecibels(Math.abs(gain), 'dB')} ${gain > 0 ? 'louder' : 'quieter'}`);
  if (disguise.includes('delay'))
    parts.push(
      `${sayNumber(Math.abs(delay))} samples (${sayNumber((1000 * Math.abs(delay)) / sampleRate, 2)} ms) ${delay > 0 ? 'later' : 'earlier'}`,
    );
  if (disguise.includes('filter')) parts.push('filtered');
  return `The right side is the left one, ${parts.join(', ')}. Undone, the difference falls to ${sayDecibels(matchedNullDepthDb, 'dB', 0)}.`;
}

function describeMicrophones({ delaySamples, gainDb, commonArrival }: PairReport, sampleRate: number): string {
  if (!commonArrival) return 'Each side hears a voice of its own, and nothing of the other.';
  const delay = (delaySamples * 1000) / sampleRate;
  if (Math.abs(delay) < 0.5) return 'People take turns being louder on one side and quieter on the other.';
  const [near, far] = delay > 0 ? ['left', 'right'] : ['right', 'left'];
  const level =
    Math.abs(gainDb ?? 0) >= 1 && (gainDb ?? 0) * delay < 0
      ? ` and ${sayDecibels(Math.abs(gainDb ?? 0), 'dB', 0)} quieter`
      : '';
  return `What is near the ${near} one reaches the ${far} one ${sayNumber(Math.abs(delay))} ms later${level}: further apart than a stereo pair.`;
}

const VERDICT_WORDS: Record<string, string> = {
  'dual-mono': 'the same on both sides',
  'fake-stereo': 'one sound in disguise',
  'two-mics': 'two microphones',
  stereo: 'stereo',
  silent: 'nothing',
};

function describeSections(sections: Section[]): string {
  const shown = sections.slice(0, 3).map(({ startSeconds, verdict, side }) => {
    const words = verdict === 'one-sided' ? `${side} side only` : (VERDICT_WORDS[verdict] ?? verdict);
    return startSeconds === 0 ? `${capital(words)} at first` : `from ${sayNumber(startSeconds)} s ${words}`;
  });
  return `${shown.join(', ')}${sections.length > 3 ? `, and ${sections.length - 3} more sections` : ''}.`;
}

/** "channels 1, 2 and 5 to 9" */
function channelList(channels: number[]): string {
  const runs: [first: number, last: number][] = [];
  for (const channel of channels) {
    const run = runs.at(-1);
    if (run && channel === run[1] + 1) run[1] = channel;
    else runs.push([channel, channel]);
  }
  const words = runs.flatMap(([first, last]) =>
    last - first < 2 ? [...new Set([first, last])].map(String) : [`${first} to ${last}`],
  );
  return `${channels.length === 1 ? 'channel' : 'channels'} ${words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`}`;
}

export function monoSentences(report: ChannelReport): Sentences {
  if (report.content !== 'programme') return { headline: 'Nothing was recorded.', detail: silentDetail([report]) };
  return { headline: 'One channel.', detail: 'A mono recording plays in the middle. Nothing needs doing.' };
}

/** @param duplicates groups of channels with one signal */
export function multichannelSentences(
  reports: ChannelReport[],
  duplicates: number[][],
  clearest: number | null,
): Sentences {
  const carrying = reports.filter((report) => report.content === 'programme').map((report) => report.channel);
  if (carrying.length === 0) return { headline: 'Nothing was recorded.', detail: silentDetail(reports) };
  const copies = carrying.filter((channel) => duplicates.some((group) => group.indexOf(channel) > 0));
  const own = carrying.filter((channel) => !copies.includes(channel));
  const copied = [...new Set(copies.map((channel) => duplicates.find((group) => group.includes(channel))![0]))];
  const empty = reports.map(({ channel }) => channel).filter((channel) => !carrying.includes(channel));
  const parts = [
    copies.length > 0 &&
      `${capital(channelList(copies))} ${copies.length === 1 ? 'is a copy' : 'are copies'} of ${channelList(copied)}.`,
    empty.length > 0 && `Nothing on ${channelList(empty)}.`,
    clearest !== null &&
      own.length > 1 &&
      `The voice is clearest on channel ${duplicates.find((group) => group.includes(clearest))?.[0] ?? clearest}.`,
  ].filter((part) => part !== false);
  return {
    headline:
      copies.length + empty.length === 0
        ? `All ${reports.length} channels carry sound of their own.`
        : `Only ${channelList(own)} ${own.length === 1 ? 'carries' : 'carry'} sound of ${own.length === 1 ? 'its' : 'their'} own.`,
    detail: parts.join(' ') || 'Which of them belong together is for you to say.',
  };
}

function silentDetail(reports: ChannelReport[]): string {
  const loudest = reports.reduce((a, b) => ((noiseDbfs(b) ?? -Infinity) > (noiseDbfs(a) ?? -Infinity) ? b : a));
  if (reports.every(({ content }) => content === 'silent')) return 'There is no sound in this clip.';
  const levelDbfs = noiseDbfs(loudest);
  if (levelDbfs === null) return 'There is no sound in this clip but for a moment.';
  return `There is only the recorder’s own noise, at ${sayDecibels(levelDbfs, 'dBFS', 0)}.`;
}

export function capital(text: string): string {
  return text[0].toUpperCase() + text.slice(1);
}
