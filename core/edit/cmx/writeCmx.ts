import { fileNameOf, type MediaFile, type Replacement, type WriteEdit } from '../edit.ts';
import { CLIP_NAME, EVENT, SOURCE_FILE, type CmxEdit } from './cmxEdit.ts';

/**
 * The list with new names, every event and time as it was. A recording that became several files has an event a file, each on a sound channel of its
 * own, with numbers that nothing else has. @param channelsFor the channels of an event's files, one each
 */
export function writeCmx(
  edit: CmxEdit,
  { replacementOf, movedTarget }: WriteEdit,
  channelsFor: (index: number) => readonly number[] = () => [],
): string {
  const { lines, ending, events, named, blocks } = edit;
  const isNamed = new Set(named.values());
  let lastNumber = Math.max(0, ...lines.map((line) => Number(EVENT.exec(line)?.[2] ?? 0)));
  const written: string[] = [];
  const rename = (line: string, at: number): void => {
    const index = named.get(at);
    const replacement = index === undefined ? null : replacementOf(events[index]);
    written.push(...(replacement ? renamed(line, replacement, replacement.note) : [moved(line, movedTarget)]));
  };
  let next = 0;
  for (const [index, { line: start, end }] of blocks.entries()) {
    for (; next < start; next++) rename(lines[next], next);
    const replacement = replacementOf(events[index]);
    const others = replacement?.further ?? [];
    const channels = channelsFor(index);
    written.push(others.length > 0 ? onChannel(lines[start], channels[0], true) : lines[start]);
    // A list that calls recordings by their reels alone has no line to change.
    const name = (file: MediaFile): string[] => (isNamed.has(index) ? [] : [`* FROM CLIP NAME: ${file.name}`]);
    if (replacement) written.push(...name(replacement));
    for (next = start + 1; next < end; next++) rename(lines[next], next);
    for (const [i, file] of others.entries()) {
      lastNumber++;
      const event = onChannel(lines[start], channels[i + 1], false, lastNumber);
      const belongs = lines.slice(start + 1, end).flatMap((line) => renamed(line, file, null));
      written.push(event, ...name(file), ...belongs);
    }
  }
  for (; next < lines.length; next++) rename(lines[next], next);
  return written.join(ending);
}

/** An event's line for one sound channel; the picture stays with the first. */
function onChannel(line: string, channel: number, keepsPicture: boolean, number?: number): string {
  const [, space, oldNumber, a, reel, b, tracks, c, rest] = EVENT.exec(line)!;
  const sound = channel === 1 ? 'A' : `A${channel}`;
  const hasPicture = /^B$|(^|\/)V\d*(\/|$)/i.test(tracks);
  const now = keepsPicture && hasPicture ? `${sound}/V` : sound;
  const counted = number === undefined ? oldNumber : String(number).padStart(oldNumber.length, '0');
  return `${space}${counted}${a}${reel}${b}${now.padEnd(tracks.length)}${c}${rest}`;
}

function renamed(line: string, file: MediaFile, note: Replacement['note']): string[] {
  const sourceFile = SOURCE_FILE.exec(line);
  if (sourceFile) return [`${sourceFile[1]}${file.target}${sourceFile[3]}`];
  const clipName = CLIP_NAME.exec(line);
  if (!clipName) return [line];
  // A name without an ending stays without one.
  const name = /\.\w{2,5}$/.test(clipName[3]) ? file.name : file.name.replace(/\.\w{2,5}$/, '');
  return [`${clipName[1]}${name}${clipName[4]}`, ...(note ? [`* ${fileNameOf(name)}: ${note}`] : [])];
}

function moved(line: string, movedTarget: WriteEdit['movedTarget']): string {
  const sourceFile = SOURCE_FILE.exec(line);
  const target = sourceFile && movedTarget(sourceFile[2]);
  return target ? `${sourceFile[1]}${target}${sourceFile[3]}` : line;
}
