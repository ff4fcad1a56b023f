import type { ChannelReport, PairReport } from '../schema/inspection.ts';
import { sayDecibels } from '../signal/sayDecibels.ts';
import { channelName } from './channelName.ts';

export interface Sentences {
  headline: string;
  detail: string;
}

/** What is heard where nothing should be missing. */
export function describeDeadSide(dead: ChannelReport, total: number): string {
  const name = channelName(dead.channel, total);
  const subject = name[0].toUpperCase() + name.slice(1);
  if (dead.content === 'silent') return `${subject} is silent.`;
  if (dead.content === 'noise') return `${subject} is hiss at ${sayDecibels(dead.rmsDbfs, 'dBFS', 0)}.`;
  return `${subject} has only a faint trace of it.`;
}

export function stereoSentences(pair: PairReport, reports: ChannelReport[], speech: boolean, doubt: string | null): Sentences {
  const what = speech ? 'speech' : 'sound';
  switch (pair.verdict) {
    case 'one-sided': {
      const left = pair.side === 'left';
      const dead = reports[left ? 1 : 0];
      return {
        headline: `Only the ${pair.side} side carries ${what}.`,
        detail: `${describeDeadSide(dead, 2)} One microphone went into input ${left ? 1 : 2} of a recorder set to stereo.`,
      };
    }
    case 'dual-mono':
      return {
        headline: 'The same on both sides.',
        detail: pair.nullDepthDb === null
          ? 'Left minus right leaves nothing at all: this is a mono recording saved as stereo.'
          : `Left minus right leaves ${sayDecibels(pair.nullDepthDb, 'dB', 0)}: this is a mono recording saved as stereo.`,
      };
    case 'silent':
      return { headline: 'Nothing was recorded.', detail: silentDetail(reports) };
    default:
      if (doubt) return { headline: 'Two different sides: look before you decide.', detail: doubt };
      return { headline: 'Stereo, as it should be.', detail: 'Both sides carry sound of their own from one place.' };
  }
}

export function monoSentences(report: ChannelReport): Sentences {
  if (report.content !== 'programme') return { headline: 'Nothing was recorded.', detail: silentDetail([report]) };
  return { headline: 'One channel.', detail: 'A mono recording plays in the middle. Nothing needs doing.' };
}

export function multichannelSentences(reports: ChannelReport[]): Sentences {
  const carrying = reports.filter((report) => report.content === 'programme').map((report) => report.channel);
  if (carrying.length === 0) return { headline: 'Nothing was recorded.', detail: silentDetail(reports) };
  return {
    headline: `${carrying.length} of ${reports.length} channels carry sound.`,
    detail: `Sound on ${carrying.length === 1 ? 'channel' : 'channels'} ${carrying.join(', ')}.`,
  };
}

function silentDetail(reports: ChannelReport[]): string {
  const loudest = reports.reduce((a, b) => ((b.rmsDbfs ?? -Infinity) > (a.rmsDbfs ?? -Infinity) ? b : a));
  if (loudest.content === 'silent') return 'There is no sound in this clip.';
  return `There is only the recorder’s own noise, at ${sayDecibels(loudest.rmsDbfs, 'dBFS', 0)}.`;
}
