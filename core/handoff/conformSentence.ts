import { capital } from '../diagnose/channelName.ts';
import type { ConformLine, ConformReason } from '../schema/handoff.ts';
import { REASONS } from './conformReasons.ts';

// Expected of every file whose sound was repaired: told line by line, and not in the sentence.
const EXPECTED: (ConformReason | undefined)[] = ['history', 'coder-delay', 'new-sound'];

/** What is different about a file that takes another's place, why, and how much was compared. */
export function conformSentence(lines: readonly ConformLine[]): string {
  const differing = lines.filter(({ equal, why }) => !equal && !EXPECTED.includes(why));
  if (differing.length === 0)
    return lines.every(({ equal }) => equal)
      ? `Drop-in replacement: all ${lines.length} properties compared are the same.`
      : `Drop-in replacement: ${lines.length} properties compared; only what describes the sound itself is new.`;
  const unexplained = differing.filter(({ why }) => why === undefined);
  const reasons = [...new Set(differing.flatMap(({ why }) => why ?? []))];
  return [
    ...(unexplained.length > 0 ? [`Differs: ${unexplained.map(lineWords).join(', ')}.`] : []),
    ...reasons.map((reason) => {
      const [first, ...more] = differing.filter(({ why }) => why === reason);
      const rest = more.length > 0 ? `, and ${more.length} more` : '';
      return `${capital(REASONS[reason])}: ${lineWords(first)}${rest}.`;
    }),
  ].join(' ');
}

function lineWords({ what, old, new: now }: ConformLine): string {
  return `${what} ${old ?? 'none'} → ${now ?? 'none'}`;
}
