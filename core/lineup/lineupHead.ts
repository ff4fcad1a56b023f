import type { LineupEntry, LineupHead } from '../schema/lineup.ts';
import { sayDuration } from '../time/sayTime.ts';
import { playsWrong } from './standing.ts';

export type HeadClip = Pick<LineupEntry, 'id' | 'standing' | 'severity' | 'cause' | 'lost'>;

/** What the project needs, in words. @param usedSeconds how much of each clip its edit uses; null where it has no edit */
export function lineupHead(clips: HeadClip[], usedSeconds: Readonly<Record<string, number>> | null = null): LineupHead {
  const count = (which: (clip: HeadClip) => boolean): number => clips.filter(which).length;
  const standing = (wanted: HeadClip['standing']): number => count((clip) => clip.standing === wanted);
  const wrong = clips.filter(playsWrong);
  const measuring = standing('measuring');
  const unreadable = standing('unreadable');
  const kept = standing('kept');
  const written = standing('written');
  const mayBe = count((clip) => clip.standing === 'open' && !playsWrong(clip));
  const toLook = count((clip) => clip.standing === 'look' && !playsWrong(clip));
  const mustLook = count((clip) => clip.standing === 'look' && playsWrong(clip));
  const lost = count((clip) => clip.lost);
  const parts = [
    usedSeconds && inTheEdit(wrong, clips, usedSeconds),
    sharedCause(wrong),
    mustLook > 0 && `${ofThem(mustLook, wrong.length)} a look first.`,
    toLook > 0 && `${toLook} ${wrong.length > 0 ? 'more ' : ''}${needs(toLook)} a look.`,
    mayBe > 0 && `${mayBe} ${mayBe === 1 ? 'plays' : 'play'} right and could be simpler.`,
    kept > 0 && `${kept} ${kept === 1 ? 'has' : 'have'} a repair kept.`,
    written > 0 && `${written} ${written === 1 ? 'is' : 'are'} written.`,
    unreadable > 0 && `${unreadable} could not be read.`,
    lost > 0 && `${lost} linked ${lost === 1 ? 'file has' : 'files have'} moved or changed.`,
    measuring > 0 && `${measuring} still being measured.`,
  ].filter((part) => part !== false && part !== null);
  return {
    headline: headline({ total: clips.length, wrong: wrong.length, decided: kept + written, measuring, unreadable }),
    detail: parts.join(' ') || 'Everything has been measured.',
  };
}

/** What matters first to whoever has cut already. */
function inTheEdit(wrong: HeadClip[], clips: HeadClip[], usedSeconds: Readonly<Record<string, number>>): string {
  const used = (some: HeadClip[]): HeadClip[] => some.filter(({ id }) => id in usedSeconds);
  const bad = used(wrong);
  const all = used(clips).length;
  if (all === 0) return 'The edit uses none of these clips.';
  const seconds = bad.reduce((sum, { id }) => sum + usedSeconds[id], 0);
  if (bad.length === 0)
    return all === 1 ? 'The clip in the edit plays right.' : `None of the ${all} clips in the edit would play wrong.`;
  return `${bad.length} ${bad.length === 1 ? 'clip is' : 'clips are'} in the edit and would play wrong, for ${sayDuration(seconds)} of it.`;
}

function ofThem(some: number, all: number): string {
  if (some < all) return `${some} of them ${needs(some)}`;
  return all === 1 ? 'It needs' : 'All of them need';
}

function needs(count: number): string {
  return count === 1 ? 'needs' : 'need';
}

function headline({
  total,
  wrong,
  decided,
  measuring,
  unreadable,
}: Record<'total' | 'wrong' | 'decided' | 'measuring' | 'unreadable', number>): string {
  if (total === measuring + unreadable) return measuring > 0 ? 'Measuring ...' : 'Nothing could be read.';
  if (wrong > 0) return `${wrong} of ${total} ${total === 1 ? 'clip' : 'clips'} would play wrong.`;
  if (measuring > 0) return 'Nothing so far would play wrong.';
  return decided > 0 ? 'Nothing would play wrong any more.' : 'Nothing would play wrong.';
}

/** "8 share one cause: one microphone on input 1 ..." */
function sharedCause(wrong: HeadClip[]): string | null {
  const counts = new Map<string, number>();
  for (const { cause } of wrong) if (cause) counts.set(cause, (counts.get(cause) ?? 0) + 1);
  const [most] = [...counts].sort(([, a], [, b]) => b - a);
  if (!most || most[1] < 2) return null;
  const [cause, count] = most;
  return `${count === wrong.length ? `All ${count}` : count} share one cause: ${cause[0].toLowerCase()}${cause.slice(1)}`;
}
