import { Refusal } from '../schema/refusal.ts';
import type { FrameRate } from '../time/frameRates.ts';
import { secondsFromTimecode } from '../time/timecode.ts';
import { fileNameOf, type EditEvent, type Replacement } from './edit.ts';

// CMX 3600 edit lists: a line an event (number, reel, track, transition, four timecodes), comments behind it. SMPTE 258M describes the form.

const EVENT =
  /^\s*(\d{1,6})\s+(\S+)\s+(\S+)\s+(C|D|K\w*|W\d{1,3})\s+(?:\d{1,3}\s+)?(\d{1,2}:\d\d:\d\d[:;]\d\d)\s+(\d{1,2}:\d\d:\d\d[:;]\d\d)\s+(\d{1,2}:\d\d:\d\d[:;]\d\d)\s+(\d{1,2}:\d\d:\d\d[:;]\d\d)\s*$/;
const CLIP_NAME = /^(\s*\*\s*(FROM|TO) CLIP NAME:\s*)(.*?)(\s*)$/i;
const SOURCE_FILE = /^(\s*\*\s*SOURCE FILE:\s*)(.*?)(\s*)$/i;
const DROP_FRAME = /^\s*FCM:\s*DROP[ -]?FRAME/i;
const NON_DROP = /^\s*FCM:\s*NON[ -]?DROP/i;
// Not recordings: black, and what an auxiliary input brought.
const NO_REEL = new Set(['BL', 'AX']);
const BLACK = /^(bl|black)$/i;

export interface CmxEdit {
  lines: string[];
  ending: string;
  events: EditEvent[];
  /** Which lines name an event's clip: its place among `events`. */
  named: Map<number, number>;
}

/**
 * @param rate of the edit's frames: the list itself says no more than whether it drops numbers
 * @param name for sentences @throws Refusal where it is no edit list
 */
export function readCmx(text: string, rate: FrameRate, name: string): CmxEdit {
  const ending = text.includes('\r\n') ? '\r\n' : '\n';
  const lines = text.split(/\r?\n/);
  const events: EditEvent[] = [];
  const named = new Map<number, number>();
  let dropFrame = rate.dropFrame;
  // The events of one number: of a transition the first goes out, the second comes in.
  let current: { number: string; indexes: number[]; named: number | null } = { number: '', indexes: [], named: null };
  for (const [at, line] of lines.entries()) {
    if (NON_DROP.test(line)) dropFrame = false;
    else if (DROP_FRAME.test(line)) dropFrame = true;
    const found = EVENT.exec(line);
    if (found) {
      const [, number, reel, , , from, to] = found;
      if (number !== current.number) current = { number, indexes: [], named: null };
      const seconds = (timecode: string): number | null => secondsFromTimecode(timecode, { ...rate, dropFrame });
      current.indexes.push(events.length);
      events.push({
        index: events.length,
        name: null,
        target: null,
        reel: NO_REEL.has(reel.toUpperCase()) ? null : reel,
        startSeconds: seconds(from),
        endSeconds: seconds(to),
        mediaStartSeconds: null,
      });
      continue;
    }
    const clipName = CLIP_NAME.exec(line);
    const sourceFile = clipName ? null : SOURCE_FILE.exec(line);
    if ((!clipName && !sourceFile) || current.indexes.length === 0) continue;
    // A source's file stands behind its clip's name.
    const index = clipName
      ? clipName[2].toUpperCase() === 'TO'
        ? current.indexes.at(-1)!
        : current.indexes[0]
      : (current.named ?? current.indexes[0]);
    current.named = index;
    if (clipName) events[index].name = clipName[3];
    else events[index].target = sourceFile![2];
    named.set(at, index);
  }
  if (events.length === 0)
    throw new Refusal(
      'bad-request',
      `${name} is no CMX 3600 edit list: no event is in it. Export the timeline as .edl.`,
    );
  return { lines, ending, events, named };
}

/** Whether an event is of a recording at all. */
export function isRecording({ reel, name, target }: EditEvent): boolean {
  return reel !== null || target !== null || (name !== null && !BLACK.test(name));
}

/** The list with new names, every event and time as it was. @param replacementOf null where an event stays */
export function writeCmx(
  { lines, ending, events, named }: CmxEdit,
  replacementOf: (event: EditEvent) => Replacement | null,
): string {
  const written = lines.flatMap((line, at) => {
    const index = named.get(at);
    const replacement = index === undefined ? null : replacementOf(events[index]);
    if (!replacement) return [line];
    const clipName = CLIP_NAME.exec(line);
    const sourceFile = SOURCE_FILE.exec(line);
    if (sourceFile) return [`${sourceFile[1]}${replacement.target}${sourceFile[3]}`];
    // A name without an ending stays without one.
    const name = /\.\w{2,5}$/.test(clipName![3]) ? replacement.name : replacement.name.replace(/\.\w{2,5}$/, '');
    return [
      `${clipName![1]}${name}${clipName![4]}`,
      ...(replacement.note ? [`* ${fileNameOf(name)}: ${replacement.note}`] : []),
    ];
  });
  return written.join(ending);
}
