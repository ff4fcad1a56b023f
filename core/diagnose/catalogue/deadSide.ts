import type { ChannelReport } from '../../schema/inspection.ts';
import { sayDecibels } from '../../signal/sayDecibels.ts';
import { capital, channelName } from '../channelName.ts';

// What is heard where nothing should be missing.

// Where more than half of the time is digital silence.
const MOMENT_DB = 3;
// Hum that is at most this far below all of the noise is what one hears of it.
const HUM_WITHIN_DB = 6;

type Made = NonNullable<ChannelReport['made']>;

/** "timecode that starts at 10:04:12:00" */
export function sayMade({ kind, hz, timecode }: Made): string {
  switch (kind) {
    case 'timecode':
      return timecode === null ? 'timecode' : `timecode: the clip starts at ${timecode}`;
    case 'tone':
      return hz === null ? 'a tone' : `a tone of ${hz} Hz`;
    case 'hum':
      return 'mains hum';
    case 'interference':
      return 'interference';
    case 'hiss':
      return 'hiss that an automatic gain lifts in the pauses';
  }
}

/** The level of noise that goes on all the time: a knock has no part in it. null where there is none, but a moment of something. */
function noiseDbfs({ noiseFloorDbfs, rmsDbfs }: ChannelReport): number | null {
  // The floor is that of what sounds at all: a sound that lasts lies above its own floor.
  return noiseFloorDbfs === null || rmsDbfs === null || noiseFloorDbfs > rmsDbfs + MOMENT_DB ? null : noiseFloorDbfs;
}

export function describeDeadSide(dead: ChannelReport, total: number, doubt: boolean): string {
  const subject = capital(channelName(dead.channel, total));
  if (dead.content === 'silent') return `${subject} is silent.`;
  if (dead.made) return `${subject} is ${sayMade(dead.made)}.`;
  if (dead.content === 'noise') {
    const levelDbfs = noiseDbfs(dead);
    if (levelDbfs === null) return `${subject} is silent but for a moment.`;
    const noise = (dead.humDbfs ?? -Infinity) > levelDbfs - HUM_WITHIN_DB ? `mains hum (${dead.mainsHz} Hz)` : 'hiss';
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

export function describeSilence(reports: ChannelReport[]): string {
  const loudest = reports.reduce((a, b) => ((noiseDbfs(b) ?? -Infinity) > (noiseDbfs(a) ?? -Infinity) ? b : a));
  if (reports.every(({ content }) => content === 'silent')) return 'There is no sound in this clip.';
  const levelDbfs = noiseDbfs(loudest);
  if (levelDbfs === null) return 'There is no sound in this clip but for a moment.';
  return `There is only the recorder’s own noise, at ${sayDecibels(levelDbfs, 'dBFS', 0)}.`;
}
