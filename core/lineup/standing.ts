import type { ClipState } from '../schema/clip.ts';
import type { Standing } from '../schema/lineup.ts';
import type { Severity, SuggestedAction } from '../schema/verdict.ts';

/** What decides where a clip stands. */
export interface StandingFacts {
  state: ClipState;
  /** null before it is measured. */
  suggestion: { action: SuggestedAction; name: string | null } | null;
  /** A repair is kept, be it to leave the clip as it is. */
  kept: boolean;
  /** What is kept is written and was read back as it should be. */
  verified: boolean;
}

/** Where a clip stands. Everything that counts or names clips by what is left to do goes by this, and by nothing else. */
export function standingOf({ state, suggestion, kept, verified }: StandingFacts): Standing {
  if (state === 'failed') return 'unreadable';
  if (state !== 'ready' || !suggestion) return 'measuring';
  if (kept) return verified ? 'written' : 'kept';
  if (suggestion.name !== null) return 'open';
  return suggestion.action === 'none' ? 'fine' : 'look';
}

/** Nothing is decided yet, and something must be. */
export function isUndecided(standing: Standing): boolean {
  return standing === 'open' || standing === 'look';
}

/** The first clip after one, around the end of the list, about which nothing is decided; undefined where all are. */
export function nextUndecided(
  order: readonly string[],
  entries: Record<string, { standing: Standing }>,
  after: string | undefined,
): string | undefined {
  const at = after === undefined ? -1 : order.indexOf(after);
  return [...order.slice(at + 1), ...order.slice(0, at + 1)].find(
    (id) => id !== after && entries[id] && isUndecided(entries[id].standing),
  );
}

/** The clip would play wrong as it is, and nothing is decided about it. */
export function playsWrong({ standing, severity }: { standing: Standing; severity: Severity | null }): boolean {
  return isUndecided(standing) && severity === 'fix';
}
