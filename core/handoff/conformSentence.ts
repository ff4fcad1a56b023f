import type { ConformLine } from '../schema/handoff.ts';

/** What is different about a file that takes another's place, or that nothing is that was compared. */
export function conformSentence(lines: readonly ConformLine[]): string {
  const differing = lines.filter(({ equal }) => !equal);
  if (differing.length === 0) return 'Drop-in replacement: every property compared is the same.';
  return `Differs: ${differing.map(({ what, old, new: now }) => `${what} ${old ?? 'none'} → ${now ?? 'none'}`).join(', ')}.`;
}
