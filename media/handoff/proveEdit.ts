import { stat } from 'node:fs/promises';
import { basename, isAbsolute, join, resolve } from 'node:path';
import type { LinkedEvent } from '@pocket-twin/core/edit/eventOutcome.ts';
import { fileNameOf, nameOfEvent, pathOf, type EditEvent } from '@pocket-twin/core/edit/edit.ts';
import {
  MOMENT_SECONDS,
  playThrough,
  rebalancedMoments,
  silencedMoments,
  soundingMoments,
  type PlayedStretch,
} from '@pocket-twin/core/edit/playedEdit.ts';
import { originOf } from '@pocket-twin/core/edit/usedStretches.ts';
import type { EditFault, EditFaultCode, EditProof } from '@pocket-twin/core/schema/editProof.ts';
import { playedLevels, type PlayedLevels } from './playedLevels.ts';

export interface EditToProve {
  /** The old edit's events, with what each should be now. */
  linked: readonly LinkedEvent[];
  /** Where relative paths of the old edit are meant from; null where nobody knows. */
  home: string | null;
  /** The written edit's events, as they were read back. */
  written: readonly EditEvent[];
  folder: string;
}

// Half a frame at the highest rate there is.
const SAME_SECONDS = 0.004;

/** Whether a written edit plays what the old one played, each moment, on every channel that was to be kept. */
export async function proveEdit({ linked, home, written, folder }: EditToProve): Promise<EditProof> {
  const faults: EditFault[] = [];
  const unresolved: string[] = [];
  const open = new Set(written);
  const fault = (code: EditFaultCode, event: EditEvent): void => {
    const { recordStartSeconds: startSeconds, recordEndSeconds: endSeconds } = event;
    faults.push({ code, name: nameOfEvent(event), startSeconds, endSeconds });
  };
  for (const { event, files, recording } of linked) {
    if (files.length === 0) {
      const same = [...open].find((other) => isSameStretch(event, other) && isStill(event, other, home, folder));
      if (same) open.delete(same);
      else fault('lost-event', event);
      const path = placeOf(event, home);
      // A list names no files: what is none of the recordings nobody can look for.
      const isUnknown = recording === null && event.channels !== null && event.target === null;
      if (isUnknown || (path !== null && !(await isFile(path)))) unresolved.push(nameOfEvent(event));
      continue;
    }
    for (const [i, { path }] of files.entries()) {
      const wanted = join(folder, path);
      const here = [...open].filter((other) => isSameStretch(event, other));
      const found = here.find((other) => leadsTo(other, wanted, folder));
      if (found) open.delete(found);
      else if ([...open].some((other) => leadsTo(other, wanted, folder) && isSameSource(event, other)))
        fault('shifted', event);
      else if (i > 0) fault('lost-track', event);
      else if (here.some((other) => other.track === event.track)) fault('wrong-file', event);
      else fault('lost-event', event);
      if (!(await isFile(wanted))) fault('dangling', event);
    }
  }
  for (const event of open) fault('added', event);
  const played = await playBoth(linked, written, folder);
  return { faults: [...faults, ...played.faults], unresolved: [...new Set(unresolved)], ...played.compared };
}

function isSameStretch(a: EditEvent, b: EditEvent): boolean {
  return (
    near(a.recordStartSeconds, b.recordStartSeconds) &&
    near(a.recordEndSeconds, b.recordEndSeconds) &&
    isSameSource(a, b)
  );
}

function isSameSource(a: EditEvent, b: EditEvent): boolean {
  return near(a.startSeconds, b.startSeconds) && near(a.endSeconds, b.endSeconds);
}

function near(a: number | null, b: number | null): boolean {
  return a === null || b === null ? a === b : Math.abs(a - b) < SAME_SECONDS;
}

/** Whether a written event leads to a file: by its address, or, in lists, by the name alone. */
function leadsTo({ target, name }: EditEvent, path: string, folder: string): boolean {
  if (target !== null) return resolve(folder, pathOf(target)) === resolve(path);
  if (name === null) return false;
  return namesOf(path).includes(name);
}

/** What a list calls a file: with its ending, or without. */
function namesOf(path: string): string[] {
  const name = basename(path);
  return [name, name.replace(/\.\w{2,5}$/, '')];
}

/** Whether an event that was to stay leads where it led. */
function isStill(before: EditEvent, now: EditEvent, home: string | null, folder: string): boolean {
  if (before.target === null || now.target === null) return before.name === now.name && before.reel === now.reel;
  if (home === null) return fileNameOf(before.target) === fileNameOf(now.target);
  return resolve(home, pathOf(before.target)) === resolve(folder, pathOf(now.target));
}

/** Where the file of an event lies that stays; null where nobody can tell. */
function placeOf({ target }: EditEvent, home: string | null): string | null {
  if (target === null || /^(?!file:)[a-z][a-z0-9+.-]+:/i.test(target)) return null;
  const path = pathOf(target);
  return isAbsolute(path) ? path : home && resolve(home, path);
}

function isFile(path: string): Promise<boolean> {
  return stat(path).then(
    (found) => found.isFile(),
    () => false,
  );
}

/** Plays what the old edit has of the recordings that were handed off, and what the new one has in their place. */
async function playBoth(
  linked: readonly LinkedEvent[],
  written: readonly EditEvent[],
  folder: string,
): Promise<{ faults: EditFault[]; compared: Pick<EditProof, 'comparedSeconds' | 'soundingSeconds'> }> {
  const levels = new Map<string, Promise<PlayedLevels | null>>();
  const levelsOf = (path: string): Promise<PlayedLevels | null> => {
    const known = levels.get(path) ?? playedLevels(path).catch(() => null);
    levels.set(path, known);
    return known;
  };
  const before: PlayedStretch[] = [];
  const after: PlayedStretch[] = [];
  const repaired: PlayedStretch[] = [];
  const wanted = new Set<string>();
  const byName = new Map<string, string>();
  for (const { event, files, recording, state } of linked) {
    if (!recording || files.length === 0 || event.isPicture || !event.isEnabled) continue;
    for (const { path } of files) {
      wanted.add(resolve(folder, path));
      for (const name of namesOf(path)) byName.set(name, resolve(folder, path));
    }
    // What feeds none of the new files and carries nothing of its own is not missed.
    const feeding = new Set(files.flatMap(({ streams }) => streams.flat(2)));
    const counts = (channel: number): boolean => feeding.has(channel) || recording.lost.includes(channel);
    const stretch = stretchOf(event, await levelsOf(recording.source), counts);
    if (!stretch) continue;
    before.push(stretch);
    if (state !== 'same') repaired.push(stretch);
  }
  for (const event of written) {
    if (event.isPicture || !event.isEnabled) continue;
    const path = event.target === null ? byName.get(event.name ?? '') : resolve(folder, pathOf(event.target));
    const stretch = path && wanted.has(path) ? stretchOf(event, await levelsOf(path), () => true) : null;
    if (stretch) after.push(stretch);
  }
  const starts = [...before, ...after].map(({ recordStartSeconds }) => recordStartSeconds);
  if (starts.length === 0) return { faults: [], compared: { comparedSeconds: 0, soundingSeconds: 0 } };
  const start = starts.reduce((least, one) => Math.min(least, one));
  const end = [...before, ...after].reduce((most, { recordEndSeconds }) => Math.max(most, recordEndSeconds), start);
  const [old, now] = [before, after].map((stretches) => playThrough(stretches, start, end));
  const faults = [
    ...spansOf(silencedMoments(old, now), start).map((span): EditFault => ({ code: 'silent', name: '', ...span })),
    ...spansOf(rebalancedMoments(old, now), start)
      .filter((span) => !repaired.some((stretch) => touches(stretch, span)))
      .map((span): EditFault => ({ code: 'balance', name: '', ...span })),
  ];
  return {
    faults,
    compared: { comparedSeconds: end - start, soundingSeconds: soundingMoments(old) * MOMENT_SECONDS },
  };
}

function stretchOf(
  event: EditEvent,
  levels: PlayedLevels | null,
  counts: (channel: number) => boolean,
): PlayedStretch | null {
  const { recordStartSeconds, recordEndSeconds, startSeconds, speed } = event;
  if (!levels || recordStartSeconds === null || recordEndSeconds === null || startSeconds === null) return null;
  const { channels, blockSeconds } = levels;
  const sideOf = (index: number) => (channels.length === 2 ? (index === 0 ? 'left' : 'right') : 'both');
  return {
    ...{ recordStartSeconds, recordEndSeconds, speed, blockSeconds },
    mediaStartSeconds: startSeconds - originOf(event, levels),
    channels: channels
      .map((block, i) => ({ block, side: sideOf(i) as 'left' | 'right' | 'both', channel: i + 1 }))
      .filter(({ channel }) => counts(channel)),
  };
}

function spansOf(moments: readonly number[], start: number): { startSeconds: number; endSeconds: number }[] {
  const spans: { startSeconds: number; endSeconds: number }[] = [];
  for (const moment of moments) {
    const startSeconds = start + moment * MOMENT_SECONDS;
    const last = spans.at(-1);
    if (last && startSeconds - last.endSeconds < MOMENT_SECONDS / 2) last.endSeconds = startSeconds + MOMENT_SECONDS;
    else spans.push({ startSeconds, endSeconds: startSeconds + MOMENT_SECONDS });
  }
  return spans;
}

function touches(
  { recordStartSeconds, recordEndSeconds }: PlayedStretch,
  { startSeconds, endSeconds }: { startSeconds: number; endSeconds: number },
): boolean {
  return recordStartSeconds < endSeconds + MOMENT_SECONDS && startSeconds - MOMENT_SECONDS < recordEndSeconds;
}
