import { Refusal } from '../../schema/refusal.ts';
import type { SectionsFile, TurnsFile } from '../../schema/repairFile.ts';
import {
  Sections,
  Turns,
  firstOverlap,
  type Microphone,
  type Repair,
  type Route,
  type Section,
  type Turn,
} from '../../schema/repair.ts';
import { sayTime } from '../../time/sayTime.ts';
import { framesOfSeconds, secondsOfFrames } from '../../time/spans.ts';
import { pass } from './plans.ts';
import { readRoute, writeRoute } from './routeText.ts';
import { turnsOutputOf } from './turnsPlan.ts';

/** The clip a plan in seconds is for. */
interface ClipShape {
  channels: number;
  frames: number;
  sampleRate: number;
}

/** @throws Refusal where turns do not fit the clip or each other */
export function turnsFromFile(file: TurnsFile, clip: ClipShape): Turns {
  const { sampleRate } = clip;
  const list = file.turns.map((turn): Turn => ({ channel: turn.channel, ...spanWithin(turn, clip, 'turn') }));
  const overlap = firstOverlap(list);
  if (overlap)
    throw new Refusal(
      'bad-request',
      `Two turns of channel ${overlap.channel} overlap at ${sayTime(overlap.startFrame / sampleRate, 2)}: end one before the other begins.`,
    );
  const framesOfMs = (ms: number): number => Math.round((ms * sampleRate) / 1000);
  const own = new Map((file.microphones ?? []).map((microphone) => [microphone.channel, microphone]));
  const channels = [...new Set([...list.map(({ channel }) => channel), ...own.keys()])].sort((a, b) => a - b);
  const beyond = channels.find((channel) => channel > clip.channels);
  if (beyond !== undefined) throw noChannel(beyond, clip);
  if (channels.length > 8)
    throw new Refusal('bad-request', `Turns are for up to eight microphones, not ${channels.length}.`);
  const microphones = channels.map((channel): Microphone => {
    const {
      closedDb = file.closedDb,
      fadeInMs = file.fadeInMs,
      fadeOutMs = file.fadeOutMs,
      leadMs = 0,
      tailMs = 0,
    } = own.get(channel) ?? {};
    return {
      channel,
      closedDb,
      fadeInFrames: framesOfMs(fadeInMs),
      fadeOutFrames: framesOfMs(fadeOutMs),
      leadFrames: framesOfMs(leadMs),
      tailFrames: framesOfMs(tailMs),
    };
  });
  return Turns.parse({ microphones, list });
}

/** What `turnsFromFile` reads. */
export function turnsToFile(repair: Repair, sampleRate: number): TurnsFile {
  const { microphones, list } = repair.turns!;
  const ms = (frames: number): number => (1000 * frames) / sampleRate;
  const each = microphones.map(({ channel, closedDb, fadeInFrames, fadeOutFrames, leadFrames, tailFrames }) => ({
    channel,
    closedDb,
    fadeInMs: ms(fadeInFrames),
    fadeOutMs: ms(fadeOutFrames),
    leadMs: ms(leadFrames),
    tailMs: ms(tailFrames),
  }));
  const [{ closedDb, fadeInMs, fadeOutMs }] = each;
  const alike = each.every(
    (one) =>
      one.closedDb === closedDb &&
      one.fadeInMs === fadeInMs &&
      one.fadeOutMs === fadeOutMs &&
      one.leadMs === 0 &&
      one.tailMs === 0,
  );
  return {
    turns: list.map(({ channel, ...span }) => ({ channel, ...secondsOfFrames(span, sampleRate) })),
    ...{ closedDb, fadeInMs, fadeOutMs },
    output: turnsOutputOf(repair) ?? 'separate',
    ...(alike ? {} : { microphones: each }),
  };
}

/**
 * Sections in order, with the clip as it is between them.
 * @throws Refusal where they do not fit the clip or each other
 */
export function sectionsFromFile(file: SectionsFile, clip: ClipShape): Sections {
  const { channels, frames, sampleRate } = clip;
  const named = file.sections.flatMap(({ route }) => Object.keys(route).map(Number));
  const outputs = Math.max(channels, ...named);
  const straight = Array.from({ length: outputs }, (_, i): Route => (i < channels ? pass(i + 1) : []));
  const list: Section[] = [];
  const add = (startFrame: number, endFrame: number, routes: Route[], fadeIn: Section['fadeIn']): void => {
    if (endFrame > startFrame) list.push({ startFrame, endFrame, routes, fadeIn });
  };
  let at = 0;
  const sorted = [...file.sections].sort((a, b) => a.startSeconds - b.startSeconds);
  for (const section of sorted) {
    const { startFrame, endFrame } = spanWithin(section, clip, 'section');
    if (startFrame < at)
      throw new Refusal(
        'bad-request',
        `Two sections overlap at ${sayTime(startFrame / sampleRate, 2)}: end one where the next begins.`,
      );
    add(at, startFrame, straight, 'equal-gain');
    const routes = Array.from({ length: outputs }, (_, i) => readRoute(section.route[i + 1] ?? ''));
    const beyond = routes.flat().find(({ from }) => from > channels);
    if (beyond) throw noChannel(beyond.from, clip);
    add(startFrame, endFrame, routes, section.fadeIn ?? 'equal-gain');
    at = endFrame;
  }
  add(at, frames, straight, 'equal-gain');
  return Sections.parse({ fadeFrames: Math.round((file.fadeMs * sampleRate) / 1000), list });
}

/** What `sectionsFromFile` reads. */
export function sectionsToFile({ fadeFrames, list }: Sections, sampleRate: number): SectionsFile {
  return {
    sections: list.map(({ startFrame, endFrame, routes, fadeIn }) => ({
      ...secondsOfFrames({ startFrame, endFrame }, sampleRate),
      route: Object.fromEntries(routes.map((route, i) => [String(i + 1), writeRoute(route)])),
      fadeIn,
    })),
    fadeMs: (1000 * fadeFrames) / sampleRate,
  };
}

function spanWithin(
  seconds: { startSeconds: number; endSeconds: number },
  { frames, sampleRate }: ClipShape,
  what: 'turn' | 'section',
): { startFrame: number; endFrame: number } {
  const span = framesOfSeconds(seconds, sampleRate);
  const at = sayTime(seconds.startSeconds, 2);
  if (span.endFrame <= span.startFrame) throw new Refusal('bad-request', `The ${what} at ${at} ends before it begins.`);
  // What was printed of the clip's end may lie a rounding beyond it.
  if (span.endFrame > frames + 1)
    throw new Refusal(
      'bad-request',
      `The ${what} at ${at} ends at ${sayTime(seconds.endSeconds, 2)}, beyond the clip’s end at ${sayTime(frames / sampleRate, 2)}.`,
    );
  return { startFrame: span.startFrame, endFrame: Math.min(span.endFrame, frames) };
}

function noChannel(channel: number, { channels }: ClipShape): Refusal {
  return new Refusal('bad-request', `There is no channel ${channel}: the clip has ${channels}.`);
}
