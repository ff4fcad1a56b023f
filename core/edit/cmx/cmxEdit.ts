import { Refusal } from '../../schema/refusal.ts';
import type { FrameRate } from '../../time/frameRates.ts';
import { secondsFromTimecode } from '../../time/timecode.ts';
import type { EditEvent } from '../edit.ts';

// CMX 3600 edit lists: a line an event (number, reel, track, transition, four timecodes), comments behind it. SMPTE 258M describes the form.

export const EVENT =
  /^(\s*)(\d{1,6})(\s+)(\S+)(\s+)(\S+)(\s+)((?:C|D|K\w*|W\d{1,3})\s+(?:\d{1,3}\s+)?(\d{1,2}:\d\d:\d\d[:;]\d\d)\s+(\d{1,2}:\d\d:\d\d[:;]\d\d)\s+(\d{1,2}:\d\d:\d\d[:;]\d\d)\s+(\d{1,2}:\d\d:\d\d[:;]\d\d)\s*)$/;
export const CLIP_NAME = /^(\s*\*\s*(FROM|TO) CLIP NAME:\s*)(.*?)(\s*)$/i;
export const SOURCE_FILE = /^(\s*\*\s*SOURCE FILE:\s*)(.*?)(\s*)$/i;
const DROP_FRAME = /^\s*FCM:\s*DROP[ -]?FRAME/i;
const NON_DROP = /^\s*FCM:\s*NON[ -]?DROP/i;
/** What follows an event and belongs to it: comments, speeds, channels. */
const BELONGS = /^\s*(\*|M2\b|AUD\b|SPLIT\b)/i;
const SPEED = /^\s*M2\s+\S+\s+(-?\d+(?:\.\d+)?)/i;
const AUDIO_CHANNELS = /^\s*AUD((?:\s+\d)+)/i;
// Not recordings: black, and what an auxiliary input brought.
const NO_REEL = new Set(['BL', 'AX']);
const BLACK = /^(bl|black)$/i;

export interface CmxEdit {
  lines: string[];
  ending: string;
  events: EditEvent[];
  /** Which lines name an event's clip: its place among `events`. */
  named: Map<number, number>;
  /** The lines of each event: its own, and where what belongs to it ends; whether nothing but a cut leads to it and all its channels stand in its line. */
  blocks: { line: number; end: number; isPlainCut: boolean }[];
}

/**
 * @param rate of the edit's frames: the list itself says no more than whether it drops numbers
 * @param name for sentences @throws Refusal where it is not an edit list
 */
export function readCmx(text: string, rate: FrameRate, name: string): CmxEdit {
  const ending = text.includes('\r\n') ? '\r\n' : '\n';
  const lines = text.split(/\r?\n/);
  const edit: CmxEdit = { lines, ending, events: [], named: new Map(), blocks: [] };
  const { events, named, blocks } = edit;
  let dropFrame = rate.dropFrame;
  // The events of one number: of a transition the first goes out, the second comes in.
  let current: { number: string; indexes: number[]; named: number | null } = { number: '', indexes: [], named: null };
  for (const [at, line] of lines.entries()) {
    if (NON_DROP.test(line)) dropFrame = false;
    else if (DROP_FRAME.test(line)) dropFrame = true;
    const found = EVENT.exec(line);
    if (found) {
      const number = found[2];
      if (number !== current.number) current = { number, indexes: [], named: null };
      current.indexes.push(events.length);
      events.push(eventOf(found, events.length, { ...rate, dropFrame }));
      blocks.push({ line: at, end: at + 1, isPlainCut: /^C\s/i.test(found[8]) });
      if (current.indexes.length > 1) for (const index of current.indexes) blocks[index].isPlainCut = false;
      continue;
    }
    const block = blocks.at(-1);
    if (block?.end === at && BELONGS.test(line)) {
      block.end = at + 1;
      if (describe(events.at(-1)!, line, rate)) block.isPlainCut = false;
    }
    const index = namedBy(line, current);
    if (index !== null) {
      nameEvent(events[index], line);
      named.set(at, index);
    }
  }
  if (events.length === 0)
    throw new Refusal(
      'bad-request',
      `${name} is not a CMX 3600 edit list: no event is in it. Export the timeline as .edl.`,
    );
  return edit;
}

function eventOf(found: RegExpExecArray, index: number, rate: FrameRate): EditEvent {
  const reel = found[4];
  const tracks = found[6];
  const [from, to, recordFrom, recordTo] = found.slice(9, 13).map((timecode) => secondsFromTimecode(timecode, rate));
  const channels = channelsOf(tracks);
  return {
    index,
    name: null,
    target: null,
    reel: NO_REEL.has(reel.toUpperCase()) ? null : reel,
    startSeconds: from,
    endSeconds: to,
    mediaStartSeconds: null,
    recordStartSeconds: recordFrom,
    recordEndSeconds: recordTo,
    track: tracks,
    isPicture: channels.length === 0,
    isEnabled: true,
    speed: 1,
    channels,
  };
}

/** "A", "A2", "AA" for the first two, "B" for the picture and the first, "A2/V" and the like; "V" has none. */
function channelsOf(tracks: string): number[] {
  const channels = tracks
    .toUpperCase()
    .split('/')
    .flatMap((part) => {
      if (part === 'B') return [1];
      if (part === 'AA') return [1, 2];
      const one = /^A(\d{0,2})$/.exec(part);
      return one ? [one[1] === '' ? 1 : Number(one[1])] : [];
    });
  return [...new Set(channels)].sort((a, b) => a - b);
}

/** What lines behind an event say of it. @returns whether it is on more channels than its own line says */
function describe(event: EditEvent, line: string, rate: FrameRate): boolean {
  const speed = SPEED.exec(line);
  if (speed) event.speed = Number(speed[1]) / Math.round(rate.numerator / rate.denominator);
  const audio = AUDIO_CHANNELS.exec(line);
  if (!audio) return false;
  const more = audio[1].trim().split(/\s+/).map(Number);
  event.channels = [...new Set([...(event.channels ?? []), ...more])].sort((a, b) => a - b);
  event.isPicture = false;
  return true;
}

/** Which event a line names the clip or the file of; null where it names none. */
function namedBy(line: string, current: { indexes: number[]; named: number | null }): number | null {
  if (current.indexes.length === 0) return null;
  const clipName = CLIP_NAME.exec(line);
  if (clipName) current.named = clipName[2].toUpperCase() === 'TO' ? current.indexes.at(-1)! : current.indexes[0];
  // A source's file stands behind its clip's name.
  else if (!SOURCE_FILE.test(line)) return null;
  return (current.named ??= current.indexes[0]);
}

function nameEvent(event: EditEvent, line: string): void {
  const clipName = CLIP_NAME.exec(line);
  if (clipName) event.name = clipName[3];
  else event.target = SOURCE_FILE.exec(line)![2];
}

/** Whether an event is of a recording at all. */
export function isRecording({ reel, name, target }: EditEvent): boolean {
  return reel !== null || target !== null || (name !== null && !BLACK.test(name));
}
