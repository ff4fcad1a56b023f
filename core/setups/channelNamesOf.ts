import type { ClipFacts } from '../schema/clipFacts.ts';

/** What each channel of a clip is called: by a person for its setup, else by its own file, else by what its setup's files mostly say. */
export function channelNamesOf(
  setup: { roles: (string | null)[] | null; rolesGiven: boolean | null } | null,
  facts: Pick<ClipFacts, 'trackNames'> | null,
  channels: number,
): (string | null)[] {
  return Array.from(
    { length: channels },
    (_, c) => (setup?.rolesGiven ? setup.roles?.[c] : null) ?? facts?.trackNames[c] ?? setup?.roles?.[c] ?? null,
  );
}
