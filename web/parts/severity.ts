import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { Severity } from '@pocket-twin/core/schema/verdict.ts';

/** The most pressing severity among a clip's findings; null where there is none. */
export function worstSeverity(clip: Clip): Severity | null {
  const severities = clip.inspection?.findings.map(({ severity }) => severity) ?? [];
  return (['fix', 'look', 'note'] as const).find((severity) => severities.includes(severity)) ?? null;
}
