import type { LineupHead } from '../schema/lineup.ts';
import type { Severity } from '../schema/verdict.ts';

/** What the headline of a project's lineup is made from. */
export interface HeadClip {
  state: 'waiting' | 'reading' | 'ready' | 'failed';
  severity: Severity | null;
  cause: string | null;
  /** A repair is kept for it. */
  handled: boolean;
  /** The linked file moved or changed. */
  lost: boolean;
}

/** What the project needs, in words. */
export function lineupHead(clips: HeadClip[]): LineupHead {
  const count = (which: (clip: HeadClip) => boolean): number => clips.filter(which).length;
  const wrong = clips.filter(({ severity }) => severity === 'fix');
  const open = count(({ state }) => state === 'waiting' || state === 'reading');
  const failed = count(({ state }) => state === 'failed');
  const toLook = count(({ severity }) => severity === 'look');
  const handled = wrong.filter((clip) => clip.handled).length;
  const lost = count((clip) => clip.lost);
  const parts = [
    sharedCause(wrong),
    handled > 0 && handled < wrong.length && `${handled} ${handled === 1 ? 'has' : 'have'} a repair kept.`,
    toLook > 0 && `${toLook} ${toLook === 1 ? 'needs' : 'need'} a look.`,
    failed > 0 && `${failed} could not be read.`,
    lost > 0 && `${lost} linked ${lost === 1 ? 'file has' : 'files have'} moved or changed.`,
    open > 0 && `${open} still being measured.`,
  ].filter((part) => part !== false && part !== null);
  return { headline: headline(clips.length, wrong.length, handled, open, failed), detail: parts.join(' ') || 'Everything has been measured.' };
}

function headline(total: number, wrong: number, handled: number, open: number, failed: number): string {
  if (total === open + failed) return open > 0 ? 'Measuring ...' : 'Nothing could be read.';
  if (wrong === 0) return open > 0 ? 'Nothing so far would play wrong.' : 'Nothing would play wrong.';
  if (handled === wrong) return wrong === 1 ? 'The clip that would play wrong has its repair.' : `All ${wrong} clips that would play wrong have their repair.`;
  return `${wrong} of ${total} ${total === 1 ? 'clip' : 'clips'} would play wrong.`;
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
